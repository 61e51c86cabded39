package org.juratest.instruments.family.breakers;

import com.digitalpetri.modbus.client.ModbusTcpClient;
import com.digitalpetri.modbus.exceptions.ModbusExecutionException;
import com.digitalpetri.modbus.exceptions.ModbusResponseException;
import com.digitalpetri.modbus.exceptions.ModbusTimeoutException;
import com.digitalpetri.modbus.pdu.ReadHoldingRegistersRequest;
import com.digitalpetri.modbus.pdu.WriteMultipleRegistersRequest;
import com.digitalpetri.modbus.tcp.client.NettyTcpClientTransport;
import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.concurrent.atomic.AtomicReference;
import org.jspecify.annotations.Nullable;
import org.juratest.core.port.DeviceLink;
import org.juratest.core.port.GearException;
import org.juratest.core.port.GearIdentity;
import org.juratest.core.run.RunEvents;

/**
 * A protection relay over its communication port, by the holding registers of the Modbus application protocol (V1.1b3,
 * 6.3 and 6.12) over TCP. Settings are 32-bit numbers in thousandths of the base unit of what they set.
 */
public final class ModbusRelay implements DeviceLink {

    private static final int DEVICE = 0x40;
    private static final int SETTINGS = 0x100;
    private static final int LEAD = 0xF00;
    private static final int TEXT = 0x40;
    private static final int EACH = 6;
    private static final int UNIT = 1;
    /** As lines wait, longer where processors are busy; see the connection of lines. */
    private static final int PATIENCE = Math.max(1, Math.min(20, Integer.getInteger("juratest.patience", 1)));

    private static final Map<String, Integer> PLACES = Map.of(
            "pickUpSetting",
            0,
            "timeMultiplier",
            1,
            "characteristicAngle",
            2,
            "differentialSetting",
            3,
            "differentialSlope",
            4);

    private final String host;
    private final int port;
    private final AtomicReference<@Nullable ModbusTcpClient> client = new AtomicReference<>();

    public ModbusRelay(String host, int port) {
        this.host = host;
        this.port = port;
    }

    /** What is asked of the line. */
    private interface Exchange<T> {
        T with(ModbusTcpClient line) throws ModbusExecutionException, ModbusResponseException, ModbusTimeoutException;
    }

    private <T> T exchanged(String what, Exchange<T> exchange) {
        ModbusTcpClient line = client.get();
        if (line == null) {
            throw new GearException(GearException.Fault.LOST, "it is not connected");
        }
        try {
            return exchange.with(line);
        } catch (ModbusResponseException e) {
            throw new GearException(
                    GearException.Fault.REFUSED, "it refused " + what + ": exception code " + e.getExceptionCode());
        } catch (ModbusTimeoutException e) {
            close();
            throw new GearException(GearException.Fault.SILENT, "no answer to " + what);
        } catch (ModbusExecutionException e) {
            close();
            throw new GearException(GearException.Fault.LOST, "the connection was lost at " + what);
        }
    }

    private ByteBuffer read(String what, int address, int registers) {
        byte[] answer = exchanged(
                        what,
                        line -> line.readHoldingRegisters(UNIT, new ReadHoldingRegistersRequest(address, registers)))
                .registers();
        if (answer.length != 2 * registers) {
            throw new GearException(
                    GearException.Fault.GARBLED,
                    "it answered " + answer.length + " bytes to " + what + ", not " + 2 * registers);
        }
        return ByteBuffer.wrap(answer);
    }

    private String text(String what, int address) {
        return new String(read(what, address, TEXT).array(), StandardCharsets.US_ASCII)
                .replace("\0", "")
                .strip();
    }

    @Override
    public GearIdentity identify() {
        if (client.get() == null) {
            ModbusTcpClient fresh = ModbusTcpClient.create(
                    NettyTcpClientTransport.create(c -> {
                        c.hostname = host;
                        c.port = port;
                        c.connectPersistent = false;
                        c.connectTimeout = Duration.ofMillis(500L * PATIENCE);
                    }),
                    c -> c.requestTimeout = Duration.ofMillis(1000L * PATIENCE));
            try {
                fresh.connect();
            } catch (ModbusExecutionException e) {
                throw new GearException(GearException.Fault.LOST, "no connection to " + host + ":" + port);
            }
            client.set(fresh);
        }
        return GearIdentity.parse(text("who it is", 0).replace(';', ','));
    }

    @Override
    public void connectTo(String label) {
        byte[] bytes = label.getBytes(StandardCharsets.US_ASCII);
        ByteBuffer padded = ByteBuffer.allocate(2 * TEXT);
        if (bytes.length > padded.capacity()) {
            throw new IllegalArgumentException("a label has at most " + padded.capacity() + " letters");
        }
        padded.put(bytes);
        write("its lead", LEAD, padded.array());
    }

    private void write(String what, int address, byte[] bytes) {
        exchanged(
                what,
                line -> line.writeMultipleRegisters(
                        UNIT, new WriteMultipleRegistersRequest(address, bytes.length / 2, bytes)));
    }

    @Override
    public double timeFactor() {
        return 1;
    }

    @Override
    public RunEvents.DeviceIdentity device() {
        String answer = text("who the relay is", DEVICE);
        String[] fields = answer.split(";", -1);
        if (answer.isEmpty()) {
            throw new GearException(GearException.Fault.SILENT, "no relay answers behind it");
        }
        if (fields.length != 4 || fields[0].isBlank() || fields[2].isBlank()) {
            throw new GearException(GearException.Fault.GARBLED, "it says of the relay: \"" + answer + "\"");
        }
        return new RunEvents.DeviceIdentity(fields[0], fields[1], fields[2], fields[3], null, List.of());
    }

    private static int place(String name) {
        Integer place = PLACES.get(name);
        if (place == null) {
            throw new GearException(GearException.Fault.REFUSED, "it has no setting \"" + name + "\"");
        }
        return SETTINGS + EACH * place;
    }

    @Override
    public Setting setting(String name) {
        ByteBuffer answer = read(name, place(name), EACH);
        Setting setting = new Setting(answer.getInt(), answer.getInt(), answer.getInt());
        if (setting.lowest() >= setting.highest()) {
            throw new GearException(GearException.Fault.SILENT, "no relay answers behind it");
        }
        return setting;
    }

    @Override
    public void set(String name, int value) {
        write(name, place(name), ByteBuffer.allocate(4).putInt(value).array());
    }

    @Override
    public void close() {
        ModbusTcpClient line = client.getAndSet(null);
        if (line != null) {
            // Nobody waits for the far end to agree: what is behind it switches nothing.
            line.disconnectAsync();
        }
    }
}
