package org.juratest.core.family.breakers;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.OptionalDouble;

/**
 * Times and travel of one operation of a breaker, from its samples. Times are from the command: from where the current
 * of the coil begins (IEC 62271-100:2008, 3.7.133 opening time, 3.7.136 closing time, 3.7.143 close-open time).
 *
 * @param command s from the beginning of the record; all other times count from here
 * @param poles in the order of the record
 * @param motion absent where the drive did not move
 * @param coil what its coil did
 */
public record Switching(double command, List<Pole> poles, java.util.Optional<Motion> motion, Coil coil) {

    /** Shorter changes of a contact are of the line, not of the contact, s. */
    private static final double GLITCH = 0.15e-3;
    /** Contacts that stay open for longer have parted, and do not bounce, s. */
    private static final double PARTED = 4e-3;
    /** Less than this is no stroke, mm. */
    private static final double STROKE = 0.5;
    /** Over which a coil's current is smoothed, s. */
    private static final double SMOOTH = 0.4e-3;
    /** Of the highest current: a dip that is deeper is the armature's. */
    private static final double DIP = 0.03;

    /**
     * A pole; s from the command.
     *
     * @param made first touch; absent where it did not close
     * @param settled from when it stays closed; absent likewise
     * @param parted separation; absent where it did not open
     */
    public record Pole(OptionalDouble made, OptionalDouble settled, OptionalDouble parted) {

        /** How long it bounced, s. */
        public OptionalDouble bounce() {
            return made.isPresent() && settled.isPresent()
                    ? OptionalDouble.of(settled.getAsDouble() - made.getAsDouble())
                    : OptionalDouble.empty();
        }
    }

    /**
     * How the drive moved.
     *
     * @param stroke between rest and rest, mm
     * @param overtravel beyond where it came to rest, mm
     * @param rebound back from there after it, mm
     * @param speed mean over the zone at the contacts, m/s; absent where no contact moved
     */
    public record Motion(double stroke, double overtravel, double rebound, OptionalDouble speed) {}

    /**
     * What the coil did.
     *
     * @param peak A
     * @param latch when its armature struck, s: the dip of the current; absent where there is none
     * @param ends when its auxiliary switch interrupted it, s; absent where it flows to the end
     */
    public record Coil(double peak, OptionalDouble latch, OptionalDouble ends) {}

    /** The slowest of a moment; absent where a pole lacks it. */
    public OptionalDouble last(java.util.function.Function<Pole, OptionalDouble> moment) {
        double last = Double.NEGATIVE_INFINITY;
        for (Pole pole : poles) {
            OptionalDouble at = moment.apply(pole);
            if (at.isEmpty()) {
                return OptionalDouble.empty();
            }
            last = Math.max(last, at.getAsDouble());
        }
        return OptionalDouble.of(last);
    }

    /** The first of a moment; absent where a pole lacks it. */
    public OptionalDouble first(java.util.function.Function<Pole, OptionalDouble> moment) {
        double first = Double.POSITIVE_INFINITY;
        for (Pole pole : poles) {
            OptionalDouble at = moment.apply(pole);
            if (at.isEmpty()) {
                return OptionalDouble.empty();
            }
            first = Math.min(first, at.getAsDouble());
        }
        return OptionalDouble.of(first);
    }

    /** Between the first and the last pole; absent where a pole lacks the moment. */
    public OptionalDouble spread(java.util.function.Function<Pole, OptionalDouble> moment) {
        OptionalDouble last = last(moment);
        return last.isEmpty()
                ? last
                : OptionalDouble.of(last.getAsDouble() - first(moment).getAsDouble());
    }

    /**
     * From the first touch of any pole to the separation of all (IEC 62271-100:2008, 3.7.143); absent where it did not
     * do both.
     */
    public OptionalDouble closeOpen() {
        OptionalDouble made = first(Pole::made);
        OptionalDouble parted = last(Pole::parted);
        return made.isEmpty() || parted.isEmpty()
                ? OptionalDouble.empty()
                : OptionalDouble.of(parted.getAsDouble() - made.getAsDouble());
    }

    /**
     * Analyses a record.
     *
     * @param zone over which the speed is taken, mm: after the separation of the first pole that opens, before the
     *     touch of the first that closes
     * @return empty where no current of a coil is in it: then nothing was commanded
     */
    public static java.util.Optional<Switching> of(SwitchingRecord record, double zone) {
        double rate = record.perSecond();
        double[] coil = smoothed(record.coil(), (int) Math.max(1, Math.round(SMOOTH * rate)));
        OptionalDouble onset = onset(coil);
        if (onset.isEmpty()) {
            return java.util.Optional.empty();
        }
        double command = onset.getAsDouble() / rate;
        List<Pole> poles = new ArrayList<>();
        for (float[] contact : record.contacts()) {
            poles.add(pole(contact, rate, command));
        }
        return java.util.Optional.of(new Switching(
                command, List.copyOf(poles), motion(record, poles, command, zone), coil(coil, rate, onset)));
    }

    private static double[] smoothed(float[] raw, int width) {
        double[] upTo = new double[raw.length + 1];
        for (int i = 0; i < raw.length; i++) {
            upTo[i + 1] = upTo[i] + raw[i];
        }
        double[] mean = new double[raw.length];
        for (int i = 0; i < raw.length; i++) {
            int from = Math.max(0, i - width / 2);
            int to = Math.min(raw.length, from + width);
            mean[i] = (upTo[to] - upTo[from]) / (to - from);
        }
        return mean;
    }

    private static double highest(double[] values) {
        return Arrays.stream(values).max().orElse(0);
    }

    /** Where the current begins, in samples: the line through 10 % and 30 % of its peak, carried back to nothing. */
    private static OptionalDouble onset(double[] coil) {
        double peak = highest(coil);
        double rest = rest(coil);
        if (!(peak - rest > 6 * noise(coil, rest)) || !(peak > 0)) {
            return OptionalDouble.empty();
        }
        OptionalDouble low = crossing(coil, 0, rest + 0.1 * (peak - rest));
        OptionalDouble high = crossing(coil, 0, rest + 0.3 * (peak - rest));
        if (low.isEmpty() || high.isEmpty()) {
            return OptionalDouble.empty();
        }
        return OptionalDouble.of(Math.max(0, low.getAsDouble() - 0.5 * (high.getAsDouble() - low.getAsDouble())));
    }

    /** Mean of the first hundredth. */
    private static double rest(double[] values) {
        return Arrays.stream(values, 0, Math.max(1, values.length / 100))
                .average()
                .orElse(0);
    }

    private static double noise(double[] values, double rest) {
        int n = Math.max(1, values.length / 100);
        return Math.sqrt(
                Arrays.stream(values, 0, n).map(v -> (v - rest) * (v - rest)).sum() / n);
    }

    /** Where values first rise to a level from a sample on, between samples. */
    private static OptionalDouble crossing(double[] values, int from, double level) {
        for (int i = Math.max(1, from); i < values.length; i++) {
            if (values[i] >= level && values[i - 1] < level) {
                return OptionalDouble.of(i - 1 + (level - values[i - 1]) / (values[i] - values[i - 1]));
            }
        }
        return OptionalDouble.empty();
    }

    /** A stretch in which a contact did not change; samples, the end not within. */
    private record Stretch(boolean closed, int from, int to) {}

    private static List<Stretch> stretches(float[] contact, double rate) {
        int least = (int) Math.ceil(GLITCH * rate);
        List<Stretch> all = new ArrayList<>();
        int from = 0;
        for (int i = 1; i <= contact.length; i++) {
            boolean was = contact[from] > 0.5f;
            if (i == contact.length || contact[i] > 0.5f != was) {
                Stretch before = all.isEmpty() ? null : all.get(all.size() - 1);
                boolean joins = before != null && (i - from < least || before.closed() == was);
                if (joins) {
                    all.set(all.size() - 1, new Stretch(before.closed(), before.from(), i));
                } else {
                    all.add(new Stretch(was, from, i));
                }
                from = i;
            }
        }
        return all;
    }

    private static Pole pole(float[] contact, double rate, double command) {
        OptionalDouble made = OptionalDouble.empty();
        OptionalDouble settled = OptionalDouble.empty();
        OptionalDouble parted = OptionalDouble.empty();
        List<Stretch> all = stretches(contact, rate);
        for (int i = 1; i < all.size(); i++) {
            Stretch s = all.get(i);
            double at = s.from() / rate - command;
            boolean isLast = i == all.size() - 1;
            if (at < 0) {
                continue;
            }
            if (s.closed() && parted.isEmpty()) {
                made = made.isPresent() ? made : OptionalDouble.of(at);
                settled = OptionalDouble.of(at);
            } else if (!s.closed() && parted.isEmpty() && (isLast || (s.to() - s.from()) / rate >= PARTED)) {
                parted = OptionalDouble.of(at);
            }
        }
        return new Pole(made, settled, parted);
    }

    private static java.util.Optional<Motion> motion(
            SwitchingRecord record, List<Pole> poles, double command, double zone) {
        double rate = record.perSecond();
        double[] travel = smoothed(record.travel(), (int) Math.max(1, Math.round(GLITCH * rate)));
        int before = Math.max(1, (int) (command * rate));
        double begins = median(travel, 0, before);
        double ends = median(travel, travel.length - Math.max(1, travel.length / 12), travel.length);
        double stroke = Math.abs(ends - begins);
        double towards = Math.signum(ends - begins);
        if (stroke < STROKE) {
            return java.util.Optional.empty();
        }
        int furthest = before;
        for (int i = before; i < travel.length; i++) {
            furthest = towards * travel[i] > towards * travel[furthest] ? i : furthest;
        }
        double back = 0;
        for (int i = furthest; i < travel.length; i++) {
            back = Math.max(back, towards * (ends - travel[i]));
        }
        double beyond = Math.max(0, towards * (travel[furthest] - ends));
        return java.util.Optional.of(
                new Motion(stroke, beyond, back, speed(record, travel, poles, command, zone, towards)));
    }

    private static double median(double[] values, int from, int to) {
        double[] some = Arrays.copyOfRange(values, from, to);
        Arrays.sort(some);
        return some[some.length / 2];
    }

    /** Slope of the travel over the time by least squares within the zone at the contacts, m/s. */
    private static OptionalDouble speed(
            SwitchingRecord record, double[] travel, List<Pole> poles, double command, double zone, double towards) {
        double rate = record.perSecond();
        boolean closing = poles.stream().anyMatch(p -> p.made().isPresent());
        OptionalDouble at = poles.stream()
                .map(closing ? Pole::made : Pole::parted)
                .filter(OptionalDouble::isPresent)
                .mapToDouble(OptionalDouble::getAsDouble)
                .min();
        if (at.isEmpty()) {
            return OptionalDouble.empty();
        }
        int middle = (int) Math.round((at.getAsDouble() + command) * rate);
        double place = travel[Math.min(travel.length - 1, middle)];
        int direction = closing ? -1 : 1;
        int n = 0;
        double sumT = 0;
        double sumX = 0;
        double sumTt = 0;
        double sumTx = 0;
        for (int i = middle; i >= 0 && i < travel.length; i += direction) {
            if (Math.abs(travel[i] - place) > zone || n > rate) {
                break;
            }
            double t = (i - middle) / rate;
            n++;
            sumT += t;
            sumX += travel[i];
            sumTt += t * t;
            sumTx += t * travel[i];
        }
        double spread = sumTt - sumT * sumT / Math.max(1, n);
        return n < 4 || !(spread > 0)
                ? OptionalDouble.empty()
                : OptionalDouble.of(towards * (sumTx - sumT * sumX / n) / spread / 1000);
    }

    private static Coil coil(double[] coil, double rate, OptionalDouble onset) {
        double peak = highest(coil);
        int from = (int) onset.orElse(0);
        double top = 0;
        double least = Double.POSITIVE_INFINITY;
        int leastAt = -1;
        OptionalDouble latch = OptionalDouble.empty();
        for (int i = from; i < coil.length && latch.isEmpty(); i++) {
            if (leastAt < 0) {
                top = Math.max(top, coil[i]);
                if (coil[i] < top - DIP * peak) {
                    leastAt = i;
                    least = coil[i];
                }
            } else if (coil[i] < least) {
                least = coil[i];
                leastAt = i;
                if (least < 0.1 * peak) {
                    // It was interrupted: there was no dip before.
                    break;
                }
            } else if (coil[i] > least + DIP * peak) {
                latch = OptionalDouble.of((leastAt - onset.orElse(0)) / rate);
            }
        }
        OptionalDouble ends = OptionalDouble.empty();
        for (int i = coil.length - 1; i > from; i--) {
            if (coil[i] >= 0.1 * peak) {
                ends = i == coil.length - 1
                        ? OptionalDouble.empty()
                        : OptionalDouble.of((i + 1 - onset.orElse(0)) / rate);
                break;
            }
        }
        return new Coil(peak, latch, ends);
    }
}
