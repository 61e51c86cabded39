package org.juratest.formats.comtrade;

import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.charset.StandardCharsets;
import java.time.DateTimeException;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.Locale;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;
import org.juratest.formats.comtrade.Comtrade.Analog;
import org.juratest.formats.comtrade.Comtrade.Clock;
import org.juratest.formats.comtrade.Comtrade.Form;
import org.juratest.formats.comtrade.Comtrade.Rate;
import org.juratest.formats.comtrade.Comtrade.Status;

/**
 * Reads a record from its configuration and its data. What is announced is held against what is there before anything
 * is made of it, so that no file, whatever its bytes, takes more memory than {@value #MOST_VALUES} values need.
 */
public final class ComtradeReader {

    /** Bytes of a configuration at most. */
    public static final int MOST_CONFIGURATION = 1 << 20;
    /** Bytes of data at most. */
    public static final long MOST_DATA = 48L << 20;

    private static final String CONFIGURATION = "configuration";
    private static final String DATA = "data";
    private static final int MOST_CHANNELS = 9_999;
    private static final int MOST_VALUES = 16_000_000;
    private static final int MOST_RATES = 1_000;
    private static final Pattern COUNT = Pattern.compile("([0-9]{1,7})([A-Za-z])");
    private static final Pattern DATE = Pattern.compile("([0-9]{1,2})/([0-9]{1,2})/([0-9]{2}|[0-9]{4})");
    private static final Pattern TIME = Pattern.compile("([0-9]{1,2}):([0-9]{2}):([0-9]{2})(?:\\.([0-9]{1,9}))?");
    private static final long MISSING_TIME = 0xFFFFFFFFL;
    /** Stands in text for a value that was not taken (C37.111-1999, 6.4). */
    private static final double MISSING_TEXT = 99_999;
    /** Digits of a second from which on the times of samples are nanoseconds (C37.111-2013, 7.4.7). */
    private static final int NANOSECOND_DIGITS = 7;

    private final List<String> lines;
    private int line;

    private ComtradeReader(List<String> lines) {
        this.lines = lines;
    }

    private record Head(
            String station,
            String device,
            int year,
            List<Analog> analogs,
            List<Status> statuses,
            double lineFrequency,
            List<Rate> rates,
            LocalDateTime start,
            LocalDateTime trigger,
            boolean nanoseconds,
            Form form,
            double timeFactor,
            @Nullable Clock clock) {}

    /**
     * Reads a record.
     *
     * @param configuration bytes of the file that ends in {@code .cfg}
     * @param data bytes of the file that ends in {@code .dat}
     * @throws ComtradeException naming the file with line or byte
     */
    public static Comtrade read(byte[] configuration, byte[] data) {
        if (configuration.length > MOST_CONFIGURATION) {
            throw ComtradeException.line(
                    CONFIGURATION, 1, "it has " + configuration.length + " bytes, at most " + MOST_CONFIGURATION);
        }
        if (data.length > MOST_DATA) {
            throw ComtradeException.at(DATA, MOST_DATA, "it has " + data.length + " bytes, at most " + MOST_DATA);
        }
        String text = new String(configuration, StandardCharsets.UTF_8);
        Head head = new ComtradeReader(List.of(text.split("\r\n|\n|\r", -1))).head();
        return head.form == Form.ASCII ? asText(head, data) : asBinary(head, data);
    }

    // ---- configuration

    private ComtradeException wrong(String reason) {
        return ComtradeException.line(CONFIGURATION, line, reason);
    }

    private String[] fields(String what) {
        if (line >= lines.size() || line == lines.size() - 1 && lines.get(line).isBlank()) {
            line++;
            throw wrong("the file ends before " + what);
        }
        String[] fields = lines.get(line++).split(",", -1);
        for (int i = 0; i < fields.length; i++) {
            fields[i] = fields[i].strip();
        }
        return fields;
    }

    private String[] fields(String what, int least) {
        String[] fields = fields(what);
        if (fields.length < least) {
            throw wrong(what + " has " + fields.length + " fields, " + least + " are needed");
        }
        return fields;
    }

    private double number(String text, String what) {
        try {
            double value = Double.parseDouble(text);
            if (Math.abs(value) <= Float.MAX_VALUE) {
                return value;
            }
        } catch (NumberFormatException e) {
            // Told below.
        }
        throw wrong(what + " is \"" + shortened(text) + "\", not a number");
    }

    private double number(String text, String what, double absent) {
        return text.isEmpty() ? absent : number(text, what);
    }

    private int integer(String text, String what, int low, int high) {
        double value = number(text, what);
        if (value != Math.rint(value) || value < low || value > high) {
            throw wrong(what + " is " + shortened(text) + ", not a whole number from " + low + " to " + high);
        }
        return (int) value;
    }

    private static String shortened(String text) {
        String plain = text.replaceAll("\\p{Cntrl}", "?");
        return plain.length() > 40 ? plain.substring(0, 40) + "…" : plain;
    }

    private Head head() {
        String[] first = fields("station, device and year");
        if (first.length < 2) {
            throw wrong("this is no configuration of a record: its first line has station, device and year");
        }
        int year = first.length > 2 && !first[2].isEmpty()
                ? integer(first[2], "the year of the edition", 1991, 2100)
                : 1991;
        if (year != 1991 && year != 1999 && year != 2013) {
            throw wrong("the edition of " + year + " is not known; there are 1991, 1999 and 2013");
        }
        String[] counts = fields("the numbers of channels", 3);
        int total = integer(counts[0], "the number of channels", 0, 2 * MOST_CHANNELS);
        int analogs = count(counts[1], 'A');
        int statuses = count(counts[2], 'D');
        if (total != analogs + statuses) {
            throw wrong(total + " channels are not " + analogs + " and " + statuses);
        }
        List<Analog> values = new ArrayList<>();
        for (int i = 0; i < analogs; i++) {
            values.add(analog(year));
        }
        List<Status> contacts = new ArrayList<>();
        for (int i = 0; i < statuses; i++) {
            contacts.add(status(year));
        }
        double frequency = number(fields("the line frequency")[0], "the line frequency", 0);
        List<Rate> rates = rates();
        Stamp start = stamp(year, "the time of the first sample");
        Stamp trigger = stamp(year, "the time of the trigger");
        Form form = form(year, fields("the form of the data")[0]);
        double factor = 1;
        if (year > 1991) {
            factor = number(fields("the factor of the times")[0], "the factor of the times", 1);
            if (!(factor > 0)) {
                throw wrong("the factor of the times is " + factor + ", not above 0");
            }
        }
        return new Head(
                first[0],
                first[1],
                year,
                values,
                contacts,
                frequency,
                rates,
                start.at,
                trigger.at,
                start.digits >= NANOSECOND_DIGITS,
                form,
                factor,
                year < 2013 ? null : clock());
    }

    private int count(String text, char kind) {
        Matcher found = COUNT.matcher(text);
        if (!found.matches() || Character.toUpperCase(found.group(2).charAt(0)) != kind) {
            throw wrong("\"" + shortened(text) + "\" is no number of channels; it is one such as 4" + kind);
        }
        return integer(found.group(1), "the number of channels", 0, MOST_CHANNELS);
    }

    private Analog analog(int year) {
        String[] f = fields("an analog channel", year == 1991 ? 10 : 13);
        double a = number(f[5], "the multiplier");
        if (a == 0) {
            throw wrong("the multiplier of \"" + shortened(f[1]) + "\" is 0: every value would be the same");
        }
        double primary = f.length > 12 ? number(f[10], "the primary of the ratio", 1) : 1;
        double secondary = f.length > 12 ? number(f[11], "the secondary of the ratio", 1) : 1;
        String side = f.length > 12 ? f[12].toUpperCase(Locale.ROOT) : "P";
        if (!side.equals("P") && !side.equals("S")) {
            throw wrong("\"" + shortened(f[12]) + "\" is neither P, primary, nor S, secondary");
        }
        // A ratio of 0 stands for none in files of some recorders.
        boolean ratio = primary > 0 && secondary > 0;
        if (!ratio && side.equals("S") && (primary != 0 || secondary != 0)) {
            throw wrong("a ratio of " + primary + " to " + secondary + " is none");
        }
        return new Analog(
                integer(f[0], "the number of a channel", 0, 1_000_000),
                f[1],
                f[2],
                f[3],
                f[4],
                a,
                number(f[6], "the offset", 0),
                number(f[7], "the skew", 0),
                number(f[8], "the least value", -99_999),
                number(f[9], "the largest value", 99_999),
                ratio ? primary : 1,
                ratio ? secondary : 1,
                side.equals("P"));
    }

    private Status status(int year) {
        String[] f = fields("a status channel", year == 1991 ? 3 : 5);
        boolean short3 = f.length < 5;
        return new Status(
                integer(f[0], "the number of a channel", 0, 1_000_000),
                f[1],
                short3 ? "" : f[2],
                short3 ? "" : f[3],
                (int) number(f[short3 ? 2 : 4], "the normal state", 0) == 1);
    }

    private List<Rate> rates() {
        int count = integer(fields("the number of sampling rates")[0], "the number of sampling rates", 0, MOST_RATES);
        List<Rate> rates = new ArrayList<>();
        long before = 0;
        for (int i = 0; i < Math.max(1, count); i++) {
            String[] f = fields("a sampling rate", 2);
            double rate = number(f[0], "the sampling rate");
            double last = number(f[1], "the last sample of a rate");
            if (last != Math.rint(last) || last < before || last > MOST_VALUES) {
                throw wrong("the last sample of a rate is " + shortened(f[1]) + ", not a whole number from " + before
                        + " to " + MOST_VALUES);
            }
            if (count > 0 && !(rate > 0)) {
                throw wrong("a sampling rate is " + rate + " Hz, not above 0");
            }
            before = (long) last;
            rates.add(new Rate(Math.max(0, rate), before));
        }
        // Without rates the line that stands there says how many samples there are.
        return count == 0 ? List.of(new Rate(0, before)) : rates;
    }

    private record Stamp(LocalDateTime at, int digits) {}

    private Stamp stamp(int year, String what) {
        String[] f = fields(what, 2);
        Matcher date = DATE.matcher(f[0]);
        Matcher time = TIME.matcher(f[1]);
        if (!date.matches() || !time.matches()) {
            throw wrong(what + " is \"" + shortened(f[0] + "," + f[1]) + "\", not dd/mm/yyyy,hh:mm:ss.ssssss");
        }
        int one = Integer.parseInt(date.group(1));
        int other = Integer.parseInt(date.group(2));
        int ofYear = Integer.parseInt(date.group(3));
        int full = ofYear >= 100 ? ofYear : ofYear < 70 ? 2000 + ofYear : 1900 + ofYear;
        String fraction = time.group(4) == null ? "" : time.group(4);
        try {
            // Months came first in 1991.
            LocalDate day = year == 1991 ? LocalDate.of(full, one, other) : LocalDate.of(full, other, one);
            return new Stamp(
                    LocalDateTime.of(
                            day,
                            LocalTime.of(
                                    Integer.parseInt(time.group(1)),
                                    Integer.parseInt(time.group(2)),
                                    Integer.parseInt(time.group(3)),
                                    Integer.parseInt((fraction + "000000000").substring(0, 9)))),
                    fraction.length());
        } catch (DateTimeException e) {
            throw wrong(what + " is \"" + shortened(f[0] + "," + f[1]) + "\": there is no such time");
        }
    }

    private Form form(int year, String text) {
        Form form =
                switch (text.toUpperCase(Locale.ROOT)) {
                    case "ASCII" -> Form.ASCII;
                    case "BINARY" -> Form.BINARY;
                    case "BINARY32" -> Form.BINARY32;
                    case "FLOAT32" -> Form.FLOAT32;
                    default ->
                        throw wrong("\"" + shortened(text)
                                + "\" is no form of data; there are ASCII, BINARY, BINARY32, " + "FLOAT32");
                };
        if (year < 2013 && form.bytes() > 2) {
            throw wrong(form + " is there from the edition of 2013 on, not in that of " + year);
        }
        return form;
    }

    private Clock clock() {
        String[] codes = fields("the time codes", 2);
        String[] quality = fields("the quality of the clock", 2);
        return new Clock(codes[0], codes[1], quality[0], integer(quality[1], "the leap second", 0, 3));
    }

    // ---- data

    /** Collects samples; bounded before it begins. */
    private static final class Samples {

        private final Head head;
        private final int size;
        private final double[] stamps;
        private final double[][] values;
        private final List<BitSet> states;

        Samples(Head head, long size, long place) {
            this.head = head;
            if (size * (1L + head.analogs.size() + head.statuses.size()) > MOST_VALUES) {
                throw ComtradeException.at(
                        DATA, place, size + " samples of this many channels are more than are read at a time");
            }
            this.size = (int) size;
            this.stamps = new double[this.size];
            this.values = new double[head.analogs.size()][this.size];
            this.states = IntStream.range(0, head.statuses.size())
                    .mapToObj(i -> new BitSet(this.size))
                    .toList();
        }

        Comtrade record() {
            return new Comtrade(
                    head.station,
                    head.device,
                    head.year,
                    head.analogs,
                    head.statuses,
                    head.lineFrequency,
                    head.rates.get(0).perSecond() > 0 ? head.rates : List.of(),
                    head.start,
                    head.trigger,
                    head.form,
                    head.timeFactor,
                    head.clock,
                    times(),
                    values,
                    states);
        }

        /** By the sampling rates where there are some; by the times of the samples where not. */
        private double[] times() {
            double[] time = new double[size];
            if (head.rates.get(0).perSecond() > 0) {
                int rate = 0;
                for (int i = 1; i < size; i++) {
                    while (rate < head.rates.size() - 1
                            && i >= head.rates.get(rate).last()) {
                        rate++;
                    }
                    time[i] = time[i - 1] + 1 / head.rates.get(rate).perSecond();
                }
                return time;
            }
            double unit = head.timeFactor * (head.nanoseconds ? 1e-9 : 1e-6);
            double before = Double.NEGATIVE_INFINITY;
            for (int i = 0; i < size; i++) {
                if (Double.isNaN(stamps[i])) {
                    throw ComtradeException.line(
                            DATA, i + 1L, "sample " + (i + 1) + " has no time, and there is no sampling rate");
                }
                if (stamps[i] < before) {
                    throw ComtradeException.line(
                            DATA, i + 1L, "the time of sample " + (i + 1) + " lies before that of the one before it");
                }
                before = stamps[i];
                time[i] = (stamps[i] - stamps[0]) * unit;
            }
            return time;
        }
    }

    private static long announced(Head head) {
        return head.rates.get(head.rates.size() - 1).last();
    }

    private static Comtrade asText(Head head, byte[] data) {
        List<String> lines = new ArrayList<>();
        // A file of bytes that are no text has no lines to speak of.
        String text = new String(data, StandardCharsets.ISO_8859_1);
        int columns = 2 + head.analogs.size() + head.statuses.size();
        int from = 0;
        while (from < text.length()) {
            int end = text.indexOf('\n', from);
            String one = text.substring(from, end < 0 ? text.length() : end).strip();
            from = end < 0 ? text.length() : end + 1;
            // Some recorders end the file with the character that ended files once.
            if (!one.isEmpty() && !one.equals("\u001a")) {
                lines.add(one);
                if ((long) lines.size() * columns > MOST_VALUES) {
                    throw ComtradeException.line(DATA, lines.size(), "more samples than are read at a time");
                }
            }
        }
        checkCount(head, lines.size(), lines.size() + 1L, true);
        Samples samples = new Samples(head, lines.size(), 0);
        for (int i = 0; i < lines.size(); i++) {
            String[] fields = lines.get(i).split(",", -1);
            if (fields.length != columns) {
                throw ComtradeException.line(
                        DATA, i + 1L, "it has " + fields.length + " fields, " + columns + " are needed");
            }
            samples.stamps[i] = fields[1].isBlank() ? Double.NaN : textNumber(fields[1], i, "the time");
            for (int c = 0; c < head.analogs.size(); c++) {
                Analog channel = head.analogs.get(c);
                String field = fields[2 + c].strip();
                double raw = field.isEmpty() ? Double.NaN : textNumber(field, i, "\"" + channel.name() + "\"");
                samples.values[c][i] = raw == MISSING_TEXT && channel.high() < MISSING_TEXT
                        ? Double.NaN
                        : raw * channel.a() + channel.b();
            }
            for (int c = 0; c < head.statuses.size(); c++) {
                String field = fields[2 + head.analogs.size() + c].strip();
                if (!field.equals("0") && !field.equals("1") && !field.isEmpty()) {
                    throw ComtradeException.line(
                            DATA,
                            i + 1L,
                            "\"" + head.statuses.get(c).name() + "\" is " + shortened(field) + ", neither 0 nor 1");
                }
                samples.states.get(c).set(i, field.equals("1"));
            }
        }
        return samples.record();
    }

    private static double textNumber(String text, int sample, String what) {
        try {
            double value = Double.parseDouble(text.strip());
            if (Double.isFinite(value)) {
                return value;
            }
        } catch (NumberFormatException e) {
            // Told below.
        }
        throw ComtradeException.line(DATA, sample + 1L, what + " is \"" + shortened(text.strip()) + "\", not a number");
    }

    private static void checkCount(Head head, long there, long place, boolean lines) {
        long announced = announced(head);
        if (there < announced || there == 0) {
            String reason = there == 0
                    ? "there is no sample"
                    : "the file is cut off: " + announced + " samples were announced, " + there + " are there";
            throw lines ? ComtradeException.line(DATA, place, reason) : ComtradeException.at(DATA, place, reason);
        }
    }

    private static Comtrade asBinary(Head head, byte[] data) {
        int words = (head.statuses.size() + 15) / 16;
        int bytes = 8 + head.analogs.size() * head.form.bytes() + 2 * words;
        long there = data.length / bytes;
        checkCount(head, there, data.length, false);
        // What stands behind the samples that were announced is not of the record.
        long size = announced(head) > 0 ? announced(head) : there;
        Samples samples = new Samples(head, size, 0);
        ByteBuffer in = ByteBuffer.wrap(data).order(ByteOrder.LITTLE_ENDIAN);
        for (int i = 0; i < samples.size; i++) {
            in.getInt();
            long stamp = in.getInt() & 0xFFFFFFFFL;
            samples.stamps[i] = stamp == MISSING_TIME ? Double.NaN : stamp;
            for (int c = 0; c < head.analogs.size(); c++) {
                Analog channel = head.analogs.get(c);
                double raw = raw(in, head.form);
                if (Double.isInfinite(raw)) {
                    throw ComtradeException.at(
                            DATA, in.position() - 4L, "\"" + channel.name() + "\" is not a finite number");
                }
                samples.values[c][i] = raw * channel.a() + channel.b();
            }
            for (int w = 0; w < words; w++) {
                int word = in.getShort() & 0xFFFF;
                for (int bit = 0; bit < 16 && 16 * w + bit < head.statuses.size(); bit++) {
                    samples.states.get(16 * w + bit).set(i, (word >> bit & 1) == 1);
                }
            }
        }
        return samples.record();
    }

    /** A stored number; NaN where it says that none was taken. */
    private static double raw(ByteBuffer in, Form form) {
        switch (form) {
            case BINARY -> {
                short value = in.getShort();
                return value == Short.MIN_VALUE ? Double.NaN : value;
            }
            case BINARY32 -> {
                int value = in.getInt();
                return value == Integer.MIN_VALUE ? Double.NaN : value;
            }
            default -> {
                return in.getFloat();
            }
        }
    }
}
