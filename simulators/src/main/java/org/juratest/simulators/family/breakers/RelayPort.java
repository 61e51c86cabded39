package org.juratest.simulators.family.breakers;

import com.digitalpetri.modbus.ExceptionCode;
import com.digitalpetri.modbus.FunctionCode;
import com.digitalpetri.modbus.exceptions.ModbusResponseException;
import com.digitalpetri.modbus.pdu.ReadHoldingRegistersRequest;
import com.digitalpetri.modbus.pdu.ReadHoldingRegistersResponse;
import com.digitalpetri.modbus.pdu.WriteMultipleRegistersRequest;
import com.digitalpetri.modbus.pdu.WriteMultipleRegistersResponse;
import com.digitalpetri.modbus.server.ModbusRequestContext;
import com.digitalpetri.modbus.server.ModbusServices;
import com.digitalpetri.modbus.server.ModbusTcpServer;
import com.digitalpetri.modbus.tcp.server.NettyTcpServerTransport;
import java.io.IOException;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.concurrent.ExecutionException;
import org.jspecify.annotations.Nullable;
import org.juratest.simulators.StandInLog;
import org.juratest.simulators.fleet.Fleet;

/**
 * The communication port of the relays (Modbus application protocol 1.1b3 over TCP), behind one adapter: where its lead
 * is plugged in is written to the registers from {@value #LEAD}. From register 0 the adapter says who it is, from
 * {@value #DEVICE} the relay, as text; from {@value #SETTINGS} on each setting has three numbers of 32 bits, in
 * thousandths: as it is, the least and the greatest it takes. Only the first of them can be written, all of it at once.
 */
final class RelayPort implements ModbusServices, AutoCloseable {

    static final int DEVICE = 0x40;
    static final int SETTINGS = 0x100;
    static final int LEAD = 0xF00;
    /** Registers of a text. */
    static final int TEXT = 0x40;

    private static final int EACH = 6;
    private static final String IDENTITY = "Brennach;CP-1;%s;1.2";

    /** A setting: name of it, and what it may be. */
    private record Span(String name, double lowest, double highest) {}

    private static final List<Span> SPANS = List.of(
            new Span("setting", 0.05, 25),
            new Span("multiplier", 0.025, 1.5),
            new Span("angle", -90, 90),
            new Span("difference", 0.05, 5),
            new Span("restraint", 0.05, 1));

    private final String serial;
    private final Plant plant;
    private final StandInLog log;
    private final Runnable changed;
    private final Map<String, Fleet.Device> devices = new TreeMap<>();
    private final ModbusTcpServer server;
    private final int port;
    private String lead = "";

    RelayPort(String serial, Plant plant, Fleet fleet, int port, StandInLog log, Runnable changed) throws IOException {
        this.serial = serial;
        this.plant = plant;
        this.log = log;
        this.changed = changed;
        fleet.devices().forEach(d -> devices.put(d.position(), d));
        this.port = port > 0 ? port : free();
        int listens = this.port;
        server = ModbusTcpServer.create(
                NettyTcpServerTransport.create(c -> {
                    c.bindAddress = InetAddress.getLoopbackAddress().getHostAddress();
                    c.port = listens;
                }),
                this);
        try {
            server.start();
        } catch (ExecutionException e) {
            throw new IOException("no relay port at " + listens + ": " + e.getCause(), e);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw new IOException("interrupted while the relay port began to listen", e);
        }
    }

    private static int free() throws IOException {
        try (ServerSocket any = new ServerSocket(0, 1, InetAddress.getLoopbackAddress())) {
            return any.getLocalPort();
        }
    }

    int port() {
        return port;
    }

    @Override
    public synchronized ReadHoldingRegistersResponse readHoldingRegisters(
            ModbusRequestContext context, int unit, ReadHoldingRegistersRequest request)
            throws ModbusResponseException {
        ByteBuffer all = image();
        int from = 2 * request.address();
        int count = 2 * request.quantity();
        if (request.quantity() < 1 || request.quantity() > 125 || from + count > all.capacity()) {
            throw new ModbusResponseException(FunctionCode.READ_HOLDING_REGISTERS, ExceptionCode.ILLEGAL_DATA_ADDRESS);
        }
        byte[] answer = new byte[count];
        all.get(from, answer);
        return new ReadHoldingRegistersResponse(answer);
    }

    /** All registers as they are now; those of a relay are 0 where the lead is in none. */
    private ByteBuffer image() {
        ByteBuffer all = ByteBuffer.allocate(2 * (SETTINGS + EACH * SPANS.size()));
        text(all, 0, String.format(IDENTITY, serial));
        Relays.Relay relay = plant.relay(lead);
        Fleet.Device device = relay == null ? null : devices.get(relay.position());
        if (relay != null && device != null) {
            text(all, DEVICE, device.maker() + ";" + device.model() + ";" + device.serial() + ";4.10");
            for (int i = 0; i < SPANS.size(); i++) {
                Span span = SPANS.get(i);
                all.position(2 * (SETTINGS + EACH * i));
                for (double v : new double[] {relay.set(span.name), span.lowest, span.highest}) {
                    all.putInt((int) Math.round(1000 * v));
                }
            }
        }
        return all;
    }

    private static void text(ByteBuffer all, int register, String words) {
        byte[] bytes = words.getBytes(StandardCharsets.US_ASCII);
        all.position(2 * register);
        all.put(bytes, 0, Math.min(bytes.length, 2 * TEXT));
    }

    @Override
    public synchronized WriteMultipleRegistersResponse writeMultipleRegisters(
            ModbusRequestContext context, int unit, WriteMultipleRegistersRequest request)
            throws ModbusResponseException {
        if (request.address() == LEAD) {
            lead = new String(request.values(), StandardCharsets.US_ASCII).replace("\0", "");
        } else {
            write(request);
        }
        return new WriteMultipleRegistersResponse(request.address(), request.quantity());
    }

    private void write(WriteMultipleRegistersRequest request) throws ModbusResponseException {
        int at = request.address() - SETTINGS;
        Relays.@Nullable Relay relay = plant.relay(lead);
        if (relay == null || at < 0 || at % EACH != 0 || at / EACH >= SPANS.size() || request.quantity() != 2) {
            throw new ModbusResponseException(
                    FunctionCode.WRITE_MULTIPLE_REGISTERS, ExceptionCode.ILLEGAL_DATA_ADDRESS);
        }
        Span span = SPANS.get(at / EACH);
        double value = ByteBuffer.wrap(request.values()).getInt() / 1000.0;
        if (value < span.lowest || value > span.highest) {
            throw new ModbusResponseException(FunctionCode.WRITE_MULTIPLE_REGISTERS, ExceptionCode.ILLEGAL_DATA_VALUE);
        }
        plant.relay(relay.position(), span.name, value);
        log.write("relay-data-port", relay.position() + " " + span.name + " " + value);
        changed.run();
    }

    @Override
    public void close() throws IOException {
        try {
            server.stop();
        } catch (ExecutionException e) {
            throw new IOException("the relay port did not stop", e);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
    }
}
