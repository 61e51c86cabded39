package org.juratest.formats.comtrade;

import java.io.ByteArrayOutputStream;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.charset.StandardCharsets;
import java.time.LocalDateTime;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import org.juratest.formats.comtrade.Comtrade.Analog;
import org.juratest.formats.comtrade.Comtrade.Clock;
import org.juratest.formats.comtrade.Comtrade.Form;
import org.juratest.formats.comtrade.Comtrade.Rate;
import org.juratest.formats.comtrade.Comtrade.Status;

/** Writes a record by the edition of 1999 or 2013: its configuration and its data. */
public final class ComtradeWriter {

    private static final DateTimeFormatter STAMP =
            DateTimeFormatter.ofPattern("dd/MM/yyyy,HH:mm:ss.SSSSSS", Locale.ROOT);
    private static final double MOST_TEXT = 99_998;
    private static final String END = "\r\n";

    private ComtradeWriter() {}

    /** Both files of a record. */
    public record Files(byte[] configuration, byte[] data) {}

    /**
     * Writes it. Stored numbers use the whole range of the form, channel by channel.
     *
     * @param year 1999 or 2013
     * @throws IllegalArgumentException if that edition has no such form, a name holds a comma or a line break, or there
     *     is no sample
     */
    public static Files write(Comtrade record, int year, Form form) {
        if (year != 1999 && year != 2013 || year == 1999 && form.bytes() > 2) {
            throw new IllegalArgumentException("the edition of " + year + " has no " + form);
        }
        if (record.size() == 0) {
            throw new IllegalArgumentException("there is no sample to write");
        }
        List<Analog> channels = new ArrayList<>();
        for (int c = 0; c < record.analogs().size(); c++) {
            channels.add(scaled(record.analogs().get(c), record.values()[c], form));
        }
        return new Files(
                configuration(record, channels, year, form).getBytes(StandardCharsets.UTF_8),
                form == Form.ASCII ? text(record, channels) : binary(record, channels, form));
    }

    /** With the multiplier that puts the largest value at the end of the range. */
    private static Analog scaled(Analog channel, double[] values, Form form) {
        if (form == Form.FLOAT32) {
            return channel.scaled(1, 0, -Float.MAX_VALUE, Float.MAX_VALUE);
        }
        double most =
                switch (form) {
                    case ASCII -> MOST_TEXT;
                    case BINARY -> Short.MAX_VALUE;
                    default -> Integer.MAX_VALUE;
                };
        double largest = 0;
        for (double value : values) {
            largest = Double.isNaN(value) ? largest : Math.max(largest, Math.abs(value));
        }
        return channel.scaled(largest == 0 ? 1 : largest / most, 0, -most, most);
    }

    private static String plain(String text) {
        if (text.chars().anyMatch(c -> c == ',' || c < ' ')) {
            throw new IllegalArgumentException("\"" + text + "\" cannot stand in a configuration");
        }
        return text;
    }

    private static String figure(double value) {
        return value == Math.rint(value) && Math.abs(value) < 1e15
                ? Long.toString((long) value)
                : Double.toString(value);
    }

    private static String configuration(Comtrade r, List<Analog> channels, int year, Form form) {
        StringBuilder out = new StringBuilder();
        out.append(plain(r.station()))
                .append(',')
                .append(plain(r.device()))
                .append(',')
                .append(year)
                .append(END);
        out.append(channels.size() + r.statuses().size())
                .append(',')
                .append(channels.size())
                .append("A,")
                .append(r.statuses().size())
                .append('D')
                .append(END);
        for (Analog a : channels) {
            out.append(String.join(
                            ",",
                            String.valueOf(a.index()),
                            plain(a.name()),
                            plain(a.phase()),
                            plain(a.component()),
                            plain(a.unit()),
                            figure(a.a()),
                            figure(a.b()),
                            figure(a.skew()),
                            figure(a.low()),
                            figure(a.high()),
                            figure(a.primary()),
                            figure(a.secondary()),
                            a.isPrimary() ? "P" : "S"))
                    .append(END);
        }
        for (Status s : r.statuses()) {
            out.append(String.join(
                            ",",
                            String.valueOf(s.index()),
                            plain(s.name()),
                            plain(s.phase()),
                            plain(s.component()),
                            s.normal() ? "1" : "0"))
                    .append(END);
        }
        out.append(figure(r.lineFrequency())).append(END);
        out.append(r.rates().size()).append(END);
        for (Rate rate : r.rates()) {
            out.append(figure(rate.perSecond())).append(',').append(rate.last()).append(END);
        }
        if (r.rates().isEmpty()) {
            out.append("0,").append(r.size()).append(END);
        }
        out.append(stamp(r.start())).append(END).append(stamp(r.trigger())).append(END);
        out.append(form).append(END).append(figure(unit(r) * 1e6)).append(END);
        if (year == 2013) {
            Clock clock = r.clock() == null ? new Clock("0", "x", "F", 3) : r.clock();
            out.append(plain(clock.code()))
                    .append(',')
                    .append(plain(clock.local()))
                    .append(END);
            out.append(plain(clock.quality()))
                    .append(',')
                    .append(clock.leapSecond())
                    .append(END);
        }
        return out.toString();
    }

    private static String stamp(LocalDateTime at) {
        return STAMP.format(at);
    }

    /** What the times of samples count, s: a microsecond, or as much more as the last of them needs. */
    private static double unit(Comtrade r) {
        double unit = 1e-6;
        while (r.time()[r.size() - 1] / unit > 0xFFFFFFFEL) {
            unit *= 10;
        }
        return unit;
    }

    private static byte[] text(Comtrade r, List<Analog> channels) {
        StringBuilder out = new StringBuilder();
        double unit = unit(r);
        for (int i = 0; i < r.size(); i++) {
            out.append(i + 1).append(',').append(Math.round(r.time()[i] / unit));
            for (int c = 0; c < channels.size(); c++) {
                double value = r.values()[c][i];
                out.append(',')
                        .append(
                                Double.isNaN(value)
                                        ? 99_999
                                        : Math.round(value / channels.get(c).a()));
            }
            for (int c = 0; c < r.statuses().size(); c++) {
                out.append(',').append(r.states().get(c).get(i) ? 1 : 0);
            }
            out.append(END);
        }
        return out.toString().getBytes(StandardCharsets.US_ASCII);
    }

    private static byte[] binary(Comtrade r, List<Analog> channels, Form form) {
        int words = (r.statuses().size() + 15) / 16;
        ByteBuffer sample = ByteBuffer.allocate(8 + channels.size() * form.bytes() + 2 * words)
                .order(ByteOrder.LITTLE_ENDIAN);
        ByteArrayOutputStream out = new ByteArrayOutputStream(r.size() * sample.capacity());
        double unit = unit(r);
        for (int i = 0; i < r.size(); i++) {
            sample.clear();
            sample.putInt(i + 1).putInt((int) Math.round(r.time()[i] / unit));
            for (int c = 0; c < channels.size(); c++) {
                put(sample, r.values()[c][i], channels.get(c).a(), form);
            }
            for (int w = 0; w < words; w++) {
                int word = 0;
                for (int bit = 0; bit < 16 && 16 * w + bit < r.statuses().size(); bit++) {
                    word |= r.states().get(16 * w + bit).get(i) ? 1 << bit : 0;
                }
                sample.putShort((short) word);
            }
            out.write(sample.array(), 0, sample.position());
        }
        return out.toByteArray();
    }

    private static void put(ByteBuffer out, double value, double a, Form form) {
        switch (form) {
            case BINARY -> out.putShort(Double.isNaN(value) ? Short.MIN_VALUE : (short) Math.round(value / a));
            case BINARY32 -> out.putInt(Double.isNaN(value) ? Integer.MIN_VALUE : (int) Math.round(value / a));
            default -> out.putFloat((float) value);
        }
    }
}
