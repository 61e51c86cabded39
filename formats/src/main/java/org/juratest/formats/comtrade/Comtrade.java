package org.juratest.formats.comtrade;

import java.time.LocalDateTime;
import java.util.BitSet;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * A record of currents, voltages and contacts (IEEE C37.111-1999 and C37.111-2013, which is IEC 60255-24:2013).
 *
 * @param station where it was taken
 * @param device that recorded it
 * @param year of the edition it is written by: 1991, 1999 or 2013
 * @param lineFrequency Hz; 0 where it is not told
 * @param rates sampling rates one after the other; none where each sample has its time
 * @param start of the first sample, by the clock of the device
 * @param trigger what set it off, likewise
 * @param form of its data file
 * @param timeFactor what the times of the samples are multiplied by
 * @param clock how the device's clock stands to universal time; absent before 2013
 * @param time of each sample, s after the first
 * @param values of each analog channel, in its unit as the file has it (primary or secondary); NaN where none was taken
 * @param states of each status channel, a bit a sample
 */
public record Comtrade(
        String station,
        String device,
        int year,
        List<Analog> analogs,
        List<Status> statuses,
        double lineFrequency,
        List<Rate> rates,
        LocalDateTime start,
        LocalDateTime trigger,
        Form form,
        double timeFactor,
        @Nullable Clock clock,
        double[] time,
        double[][] values,
        List<BitSet> states) {

    public Comtrade {
        analogs = List.copyOf(analogs);
        statuses = List.copyOf(statuses);
        rates = List.copyOf(rates);
        states = List.copyOf(states);
        if (values.length != analogs.size() || states.size() != statuses.size()) {
            throw new IllegalArgumentException("values of " + values.length + " channels for " + analogs.size());
        }
        for (double[] channel : values) {
            if (channel.length != time.length) {
                throw new IllegalArgumentException(channel.length + " values for " + time.length + " times");
            }
        }
    }

    /** How samples are written. */
    public enum Form {
        /** Text. */
        ASCII(0),
        /** 16-bit integers. */
        BINARY(2),
        /** 32-bit integers; from 2013 on. */
        BINARY32(4),
        /** IEEE 754 numbers of 32 bits; from 2013 on. */
        FLOAT32(4);

        private final int bytes;

        Form(int bytes) {
            this.bytes = bytes;
        }

        /** Bytes of an analog value; 0 for text. */
        int bytes() {
            return bytes;
        }
    }

    /** Samples {@code perSecond} up to number {@code last}, from 1. */
    public record Rate(double perSecond, long last) {}

    /**
     * A channel of values.
     *
     * @param index as the file numbers it
     * @param component what is watched
     * @param a what a stored number is multiplied by
     * @param b what is added then
     * @param skew of its samples after those of the first channel, us
     * @param low stored number that is the least
     * @param high stored number that is the largest
     * @param primary ratio of its transformer, primary part; 1 where there is none
     * @param secondary likewise
     * @param isPrimary whether its values are those of the primary side
     */
    public record Analog(
            int index,
            String name,
            String phase,
            String component,
            String unit,
            double a,
            double b,
            double skew,
            double low,
            double high,
            double primary,
            double secondary,
            boolean isPrimary) {

        /** A channel of what was measured itself, without transformers. */
        public static Analog plain(int index, String name, String phase, String unit) {
            return new Analog(index, name, phase, "", unit, 1, 0, 0, -32767, 32767, 1, 1, true);
        }

        Analog scaled(double by, double add, double least, double most) {
            return new Analog(
                    index, name, phase, component, unit, by, add, skew, least, most, primary, secondary, isPrimary);
        }
    }

    /**
     * A channel of a contact.
     *
     * @param normal its state in service
     */
    public record Status(int index, String name, String phase, String component, boolean normal) {}

    /**
     * How a clock stands to universal time.
     *
     * @param code hours and minutes ahead of it as the file has them, such as {@code -5h30}
     * @param local likewise of the place; {@code x} where it does not apply
     * @param quality hexadecimal figure of C37.118; 0 is locked
     * @param leapSecond 0 none in the record, 1 one put in, 2 one taken out, 3 not known
     */
    public record Clock(String code, String local, String quality, int leapSecond) {}

    /** Samples. */
    public int size() {
        return time.length;
    }

    /** The values of a channel in its unit on the primary side. */
    public double[] primary(int channel) {
        Analog of = analogs.get(channel);
        double[] all = values[channel].clone();
        if (!of.isPrimary) {
            for (int i = 0; i < all.length; i++) {
                all[i] *= of.primary / of.secondary;
            }
        }
        return all;
    }
}
