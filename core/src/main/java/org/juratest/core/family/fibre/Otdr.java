package org.juratest.core.family.fibre;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import org.juratest.core.family.fibre.OtdrEvent.Type;

/**
 * Analysis of traces of backscatter. Losses are least-squares lines of both sides carried to the event; a reflectance
 * comes from the height of the peak over the backscatter before it (R = B + 10 lg(t (10^(h/5) - 1)), B the backscatter
 * of 1 ns, t the pulse in ns, h the height in dB; IEC 61300-3-6, method of the reflectometer); the return loss of the
 * whole comes from all light that comes back. It takes time in proportion to the number of samples.
 */
public final class Otdr {

    private final OtdrTrace trace;
    private final Levels levels;
    private final FibreEnd end;
    private final Breaks breaks;
    private final List<Breaks.Break> all;
    private final List<String> warnings = new ArrayList<>();
    private final Set<Integer> echoes = new HashSet<>();

    private Otdr(OtdrTrace trace) {
        this.trace = trace;
        this.end = FibreEnd.find(new Levels(trace, trace.level().length));
        this.levels = new Levels(trace, end.at());
        this.breaks = new Breaks(levels, end);
        this.all = breaks.all();
    }

    /** Analyses a trace; positions count from the front of the instrument. */
    public static OtdrAnalysis analyse(OtdrTrace trace) {
        return analyse(trace, null);
    }

    /**
     * Analyses a trace taken through a launch lead; positions count from its end, and what is before it is no part of
     * the link.
     *
     * @param launch length of the lead, m; absent where there is none
     */
    public static OtdrAnalysis analyse(OtdrTrace trace, @Nullable Double launch) {
        if (launch != null && !(launch > 0 && launch < 1e6)) {
            throw new IllegalArgumentException("a launch lead of " + launch + " m");
        }
        Otdr otdr = new Otdr(trace);
        return otdr.end.at() - otdr.all.get(0).to() < 3
                ? otdr.nothing("no backscatter: nothing is connected, or the fibre is broken at the front")
                : otdr.analysis(launch);
    }

    /**
     * The loss at a place where an analysis has found no event, by the same lines.
     *
     * @param position m, counted as the analysis does
     * @return dB; absent where the place is not on the fibre, or too near to an event for a line on either side
     */
    public static @Nullable Double lossAt(OtdrAnalysis analysis, double position) {
        OtdrTrace trace = analysis.trace();
        double zero = analysis.zero();
        double from = Double.NaN;
        double to = Double.NaN;
        for (OtdrEvent e : analysis.events()) {
            if (e.position() > position) {
                to = e.position();
                break;
            }
            from = e.settled();
        }
        int pulse = trace.pulseSamples();
        int at = (int) Math.round((position + zero - trace.first()) / trace.spacing());
        int left = (int) Math.ceil((from + zero - trace.first()) / trace.spacing());
        int right = (int) Math.floor((to + zero - trace.first()) / trace.spacing());
        int least = Math.max(8, pulse);
        if (!(from <= position && to > position) || at - left < least || right - at - pulse - 1 < least) {
            return null;
        }
        Levels levels = new Levels(trace, right);
        int reach = (int) Math.max(64, 2000 / trace.spacing());
        double x = levels.x(at);
        return levels.line(Math.max(left, at - reach), at).at(x)
                - levels.line(at + pulse + 1, Math.min(right, at + pulse + 1 + reach))
                        .at(x);
    }

    /** There is no link on the trace. */
    private OtdrAnalysis nothing(String why) {
        return new OtdrAnalysis(
                trace, 0, Double.NaN, null, null, null, end.noise(), List.of(), List.of(), List.of(why));
    }

    private OtdrAnalysis analysis(@Nullable Double launch) {
        if (launch != null && end.seen() && position(all.size() - 1) <= launch + tolerance(launch)) {
            return nothing(String.format(
                    Locale.ROOT,
                    "the fibre ends at %.0f m, where the launch lead does: nothing is connected to it, or a link "
                            + "shorter than its dead zone",
                    position(all.size() - 1)));
        }
        findEchoes();
        double zero = launch == null ? 0 : launch;
        int first = launch == null ? 0 : lead(launch);
        int next = first >= 0 ? first + 1 : behind(launch == null ? 0 : launch);
        double start = sample(first > 0 ? position(first) : zero);
        double top = first > 0
                ? levelBefore(first)
                : breaks.hasLine(next) ? breaks.section(next).at(levels.x(start)) : levelBefore(next);
        List<OtdrEvent> events = new ArrayList<>();
        events.add(
                first >= 0
                        ? event(first, first, zero, top)
                        : new OtdrEvent(0, Type.LAUNCH, null, 0, null, false, 0, 0));
        for (int b = next; b < all.size() - (end.seen() ? 0 : 1); b++) {
            if (!echoes.contains(b)) {
                events.add(event(b, first, zero, top));
            }
        }
        says(first >= 0 ? first : next, zero);
        OtdrEvent last = events.get(events.size() - 1);
        boolean whole = last.type() == Type.END;
        return new OtdrAnalysis(
                trace,
                zero,
                top,
                whole ? (Double) last.position() : null,
                whole ? (Double) last.cumulative() : null,
                whole ? (Double) returnLoss(start, top) : null,
                end.noise(),
                events,
                sections(next, zero),
                warnings);
    }

    /** How far from the end of a launch lead its connection may be found, m. */
    private double tolerance(double launch) {
        return Math.max(5, Math.max(2 * trace.pulseLength(), 0.02 * launch));
    }

    /**
     * The break where the launch lead ends; -1 where none is seen, as after a connection that neither loses nor
     * reflects.
     */
    private int lead(double launch) {
        int best = -1;
        for (int b = 1; b < all.size() - 1; b++) {
            double off = Math.abs(position(b) - launch);
            if (off <= tolerance(launch) && (best < 0 || off < Math.abs(position(best) - launch))) {
                best = b;
            }
        }
        double dead = trace.position(all.get(0).to());
        if (launch < dead) {
            warn("the launch lead of %.0f m is shorter than the dead zone of %.0f m", launch, dead);
        }
        if (best < 0) {
            warn("nothing is seen where the launch lead of %.0f m ends", launch);
        }
        return best;
    }

    /** The first break behind a place. */
    private int behind(double place) {
        int b = 1;
        while (b < all.size() - 1 && position(b) <= place) {
            b++;
        }
        return b;
    }

    private OtdrEvent event(int b, int first, double zero, double top) {
        Breaks.Break it = all.get(b);
        Breaks.Loss loss = breaks.loss(b);
        Type type = b == first
                ? Type.LAUNCH
                : b == all.size() - 1 ? Type.END : it.zone() == null ? Type.NON_REFLECTIVE : Type.REFLECTIVE;
        return new OtdrEvent(
                b == 0 ? 0 : position(b) - zero,
                type,
                loss == null ? null : loss.loss(),
                loss == null ? 0 : loss.sigma(),
                reflectance(b),
                isCut(b),
                b == first ? 0 : top - levelBefore(b),
                trace.position(it.to()) - zero);
    }

    private double position(int b) {
        return trace.position(all.get(b).at());
    }

    private double sample(double position) {
        return (position - trace.first()) / trace.spacing();
    }

    /** Level of the backscatter just before a break. */
    private double levelBefore(int b) {
        double x = levels.x(all.get(b).at());
        if (b > 0 && breaks.hasLine(b)) {
            return breaks.before(b).at(x);
        }
        return b == 0
                ? breaks.after(0).at(x)
                : levelBefore(b - 1)
                        + levels.slope() * (x - levels.x(all.get(b - 1).at()));
    }

    private @Nullable Double reflectance(int b) {
        Reflections.Zone zone = all.get(b).zone();
        double height = zone == null ? 0 : zone.top() - levelBefore(b);
        if (!(height > 0.05)) {
            return null;
        }
        return trace.backscatter() + 10 * Math.log10(trace.pulse() * (Math.pow(10, height / 5) - 1));
    }

    /** Whether a peak is cut off: it has the receiver's highest level, or one at which another is cut off as well. */
    private boolean isCut(int b) {
        Reflections.Zone zone = all.get(b).zone();
        return zone != null
                && zone.equal() > 0
                && (zone.highest() >= trace.top()
                        || all.stream()
                                .map(Breaks.Break::zone)
                                .anyMatch(
                                        z -> z != null && z != zone && z.equal() > 0 && z.highest() == zone.highest()));
    }

    private void findEchoes() {
        List<Integer> of = new ArrayList<>();
        List<Echoes.Seen> seen = new ArrayList<>();
        for (int b = 0; b < all.size(); b++) {
            Double reflectance = b == 0 ? (Double) 0.0 : reflectance(b);
            if (reflectance != null) {
                Breaks.Loss loss = b == all.size() - 1 ? null : breaks.loss(b);
                of.add(b);
                seen.add(new Echoes.Seen(
                        b == 0 ? 0 : position(b),
                        reflectance,
                        loss == null ? null : loss.loss(),
                        loss == null ? 0 : loss.sigma(),
                        Math.max(3 * trace.spacing(), Math.max(0.3 * trace.pulseLength(), 2e-4 * position(b)))));
            }
        }
        for (Echoes.Echo e : Echoes.among(seen)) {
            echoes.add(of.get(e.index()));
            warn(
                    "ghost at %.1f m: an echo between the reflections at %.1f m and %.1f m, no event",
                    seen.get(e.index()).position(),
                    seen.get(e.back()).position(),
                    seen.get(e.thereAgain()).position());
        }
    }

    private void says(int first, double zero) {
        if (!end.seen()) {
            warn("the end of the fibre is not on the trace");
        } else if (end.fades()) {
            warn("the fibre goes under in the noise at %.0f m: its end is not sure", position(all.size() - 1) - zero);
        }
        for (int b = 0; b < all.size(); b++) {
            Reflections.Zone zone = all.get(b).zone();
            if (zone == null || echoes.contains(b) || b < first) {
                continue;
            }
            double at = b == 0 ? 0 : position(b) - zero;
            if (zone.second() != null && b > 0) {
                warn(
                        "merged at %.1f m: another reflection at %.1f m lies in its dead zone, the loss is of both",
                        at, trace.position(zone.second()) - zero);
            }
            if (isCut(b) && b > 0) {
                warn("the peak at %.1f m is cut off: its reflectance is at least what is told", at);
            }
            if (b > first && b < all.size() - 1 && breaks.loss(b) == null) {
                warn("the event at %.1f m is too near to its neighbour for a loss of its own", at);
            }
        }
    }

    /**
     * Optical return loss: all that comes back from the start to the end, over what goes in. The pulse's backscatter is
     * known from its level at the start, and each sample stands for the time light takes there and back.
     */
    private double returnLoss(double start, double top) {
        double sum = 0;
        Levels.Line front = breaks.after(0);
        double fallen = levelBefore(all.size() - 1) - 3;
        for (int i = Math.max(0, (int) Math.round(start)); i < levels.size(); i++) {
            double level = i < all.get(0).to() ? front.at(levels.x(i)) : levels.at(i);
            if (i > end.at() && level < fallen) {
                break;
            }
            sum += Math.pow(10, (level - top) / 5);
        }
        double nanoseconds = 2 * trace.groupIndex() * trace.spacing() / OtdrTrace.LIGHT * 1e9;
        return -(trace.backscatter() + 10 * Math.log10(nanoseconds * sum));
    }

    private List<OtdrAnalysis.Section> sections(int next, double zero) {
        List<OtdrAnalysis.Section> sections = new ArrayList<>();
        for (int b = next; b < all.size(); b++) {
            if (breaks.hasLine(b)) {
                Levels.Line line = breaks.section(b);
                sections.add(new OtdrAnalysis.Section(
                        Math.max(0, position(b - 1) - zero),
                        position(b) - zero,
                        -line.slope(),
                        Math.sqrt(line.slopeVariance())));
            }
        }
        return sections;
    }

    private void warn(String words, Object... values) {
        warnings.add(String.format(Locale.ROOT, words, values));
    }
}
