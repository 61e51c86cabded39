package org.juratest.core.curve;

import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.function.Function;
import java.util.function.Predicate;
import org.jspecify.annotations.Nullable;
import org.juratest.core.limit.Envelope;
import org.juratest.core.quantity.Unit;

/**
 * The time-current band of one device at its settings: several elements that stay separate. At a current I the earliest
 * allowed time is the least lowest time over the elements that <em>may</em> operate, the latest the least highest time
 * over those that <em>must</em>; elements that stand apart bound only where they are asked for. Beyond an element's
 * points nothing is known, and the window says so.
 *
 * @param source where the band comes from, in words
 * @param condition for what it holds (poles, cold or hot, ambient, response or clearing time)
 * @param elements at least one
 */
public record TimeCurrentBand(String source, String condition, List<BandElement> elements) implements Envelope {

    /**
     * Half width of the current step for the slope, relative: small against any curve's bend, large against rounding.
     */
    private static final double SLOPE_STEP = 1e-4;

    public TimeCurrentBand {
        elements = List.copyOf(elements);
        if (elements.isEmpty()) {
            throw new IllegalArgumentException("a band needs at least one element");
        }
    }

    /**
     * The window at a current.
     *
     * @param current A rms; NaN, infinite or not positive gives an unknown window
     */
    public TimeWindow at(double current) {
        if (!(current > 0 && current <= Double.MAX_VALUE)) {
            return TimeWindow.unknown("the current was not measured");
        }
        Search earliest = least(current, e -> e.mayOperateAt(current), e -> e.lowestAt(current));
        Search latest = least(current, e -> e.mustOperateAt(current), e -> e.highestAt(current));
        String outside = earliest.outside != null ? earliest.outside : latest.outside;
        if (outside != null) {
            return TimeWindow.unknown(
                    String.format(Locale.ROOT, "%.4g A is outside the points of the %s curve", current, outside));
        }
        return new TimeWindow(earliest.time, latest.time, null);
    }

    @Override
    public Optional<Envelope> part(String id) {
        return elements.stream()
                .filter(e -> e.id().equals(id))
                .findFirst()
                .map(e -> new TimeCurrentBand(source + ", " + e.label(), condition, List.of(e.alone())));
    }

    @Override
    public String over() {
        return "current";
    }

    @Override
    public Unit unit() {
        return Unit.AMPERE;
    }

    @Override
    public Bounds bounds(double current) {
        TimeWindow window = at(current);
        return new Bounds(stated(window.earliest()), window.latest(), window.unknown());
    }

    @Override
    public List<Place> outline() {
        return BandOutline.of(this).points().stream()
                .map(p -> new Place(p.current(), stated(p.earliest()), p.latest()))
                .toList();
    }

    @Override
    public List<Mark> marks() {
        return elements.stream()
                .filter(e -> !e.isApart())
                .skip(1)
                .map(e -> new Mark(e.label(), e.pickUpLow(), e.pickUpHigh()))
                .toList();
    }

    /** A shortest time, where one is stated: a table of logarithms cannot hold none. */
    private static @Nullable Double stated(@Nullable Double earliest) {
        return earliest == null || earliest < 2 * ElementShape.NONE_STATED ? null : earliest;
    }

    @Override
    public OptionalDouble side(String name, double current) {
        int slash = name.indexOf('/');
        if (slash > 0) {
            return beginning(name.substring(0, slash), name.endsWith("/to"));
        }
        return switch (name) {
            case "low" -> time("earliest", current);
            case "high" -> time("latest", current);
            default -> time(name, current);
        };
    }

    /** Where an element may begin to operate, or must, A; by its id, or what people call it. */
    private OptionalDouble beginning(String part, boolean must) {
        return elements.stream()
                .filter(e -> e.id().equals(part) || e.label().equals(part))
                .findFirst()
                .map(e -> must ? e.pickUpHigh() : (Double) e.pickUpLow())
                .map(OptionalDouble::of)
                .orElse(OptionalDouble.empty());
    }

    /**
     * One end of the window at a current, s; empty where it is open or unknown.
     *
     * @param end {@code earliest} or {@code latest}
     */
    public OptionalDouble time(String end, double current) {
        TimeWindow window = at(current);
        Double time =
                switch (end) {
                    case "earliest" -> window.earliest();
                    case "latest" -> window.latest();
                    default ->
                        throw new IllegalArgumentException(
                                "a window has an earliest and a latest time, no \"" + end + "\"");
                };
        return time == null ? OptionalDouble.empty() : OptionalDouble.of(time);
    }

    /**
     * Slope of the middle of the window (geometric mean of its ends) over current, s/A: what turns the uncertainty of
     * the current into one of the time. Zero where the window is not closed on both sides.
     */
    @Override
    public double slopeAt(double current) {
        OptionalDouble below = middle(current * (1 - SLOPE_STEP));
        OptionalDouble above = middle(current * (1 + SLOPE_STEP));
        return below.isPresent() && above.isPresent()
                ? (above.getAsDouble() - below.getAsDouble()) / (2 * SLOPE_STEP * current)
                : 0;
    }

    private OptionalDouble middle(double current) {
        TimeWindow window = at(current);
        Double earliest = window.earliest();
        Double latest = window.latest();
        return earliest == null || latest == null
                ? OptionalDouble.empty()
                : OptionalDouble.of(Math.sqrt(earliest * latest));
    }

    private record Search(@Nullable Double time, @Nullable String outside) {}

    private Search least(double current, Predicate<BandElement> takesPart, Function<BandElement, OptionalDouble> side) {
        Double least = null;
        for (BandElement element : elements) {
            if (element.isApart() || !takesPart.test(element)) {
                continue;
            }
            OptionalDouble time = side.apply(element);
            if (time.isEmpty()) {
                return new Search(null, element.label());
            }
            least = least == null ? time.getAsDouble() : Math.min(least, time.getAsDouble());
        }
        return new Search(least, null);
    }
}
