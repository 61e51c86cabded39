package org.juratest.core.bench;

import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.stream.Stream;
import org.juratest.core.method.Announced;
import org.juratest.core.method.Method;
import org.juratest.core.method.Methods;
import org.juratest.core.procedure.Step;
import org.juratest.core.quantity.Quantity;
import org.juratest.core.quantity.Unit;
import org.juratest.core.run.Announcement;
import org.juratest.core.run.Announcement.Bound;
import org.juratest.core.run.GearFacts;
import org.juratest.core.run.OutputEvents;
import org.juratest.core.run.Refusal;
import org.juratest.core.run.Rules;
import org.juratest.core.run.RunState;

/**
 * Makes announcements: what a method says of a step, held against what gear, lead and site bear as well. A function of
 * the state alone, so that it can be made again when the step is started and compared.
 */
public final class Announcements {

    private Announcements() {}

    /** The method of a step. */
    public static Method method(Step step) {
        return Methods.byName(String.valueOf(step.method()))
                .orElseThrow(
                        () -> new Refusal("unknown-method", "There is no method \"" + step.method() + "\".", "method"));
    }

    /**
     * What a step on a lane will do.
     *
     * @param today day at the site, for the gear's calibration
     * @throws Refusal if it must not be done, such as where a setting is above what the gear bears
     */
    public static Announcement of(RunState state, Sequence.Place place, LocalDate today) {
        Step step = state.stepInScope(place.step()).at(place.lane());
        GearFacts lead = Rules.gear(state, step, today);
        List<GearFacts> gear = Stream.concat(
                        Stream.of(lead),
                        state.gear().stream().filter(g -> step.furtherNeeds().contains(g.need()) || g.path() != null))
                .distinct()
                .toList();
        Announced own = method(step).announce(state, step, place.lane(), where(state, step, place.lane()));
        return of(place, String.valueOf(step.method()), step.hazard(), own, gear, state);
    }

    /** The announcement of what is done with gear outside of any step, such as to characterise it. */
    public static Announcement of(
            Sequence.Place place, String method, boolean hazard, Announced own, List<GearFacts> gear, RunState state) {
        List<Bound> bounds = new ArrayList<>(own.bounds());
        for (Bound announced : own.bounds()) {
            gear.forEach(g -> add(bounds, announced, g.greatest(), g.name() + ", its range"));
            add(
                    bounds,
                    announced,
                    state.opened().asset().siteGreatest(),
                    state.opened().asset().siteName());
        }
        List<Bound> distinct = bounds.stream().distinct().toList();
        own.settings().forEach((name, value) -> within(name, value, distinct));
        return new Announcement(
                place.step(),
                place.lane(),
                method,
                own.what(),
                hazard,
                own.settings(),
                distinct,
                own.outputs().stream().map(Class::getSimpleName).toList(),
                own.longest(),
                gear.stream().map(GearFacts::id).toList());
    }

    private static void add(List<Bound> bounds, Bound announced, Map<String, Double> greatest, String source) {
        Double most = greatest.get(announced.setPoint());
        if (most != null) {
            bounds.add(
                    Unit.of(announced.unit()).equals(Unit.DBM)
                            ? Bound.below(announced.setPoint(), most, announced.unit(), source)
                            : Bound.upTo(announced.setPoint(), most, announced.unit(), source));
        }
    }

    private static void within(String name, Quantity value, List<Bound> bounds) {
        double base = value.value() * value.unit().factor();
        bounds.stream()
                .filter(b -> b.setPoint().equals(name) && !b.allows(base))
                .findFirst()
                .ifPresent(b -> {
                    double greatest = b.allowed().stream()
                            .mapToDouble(Announcement.Span::high)
                            .max()
                            .orElse(Double.NaN);
                    String symbol = Unit.of(b.unit()).symbol();
                    throw new Refusal(
                            "above-maximum",
                            "The " + name + " of " + Rules.plain(base) + " " + symbol
                                    + " is above the greatest allowed, " + Rules.plain(greatest) + " " + symbol + ": "
                                    + b.source() + ".",
                            "params." + name);
                });
    }

    /**
     * What an arming says: the announcement of its first step, and of everything the same press may go on with.
     *
     * @param on whether what follows by itself goes with the same press
     */
    public static OutputEvents.Arming arming(
            RunState state, Sequence.Place first, boolean on, Instant now, LocalDate today) {
        Announcement announcement = of(state, first, today);
        if (!on) {
            return new OutputEvents.Arming(announcement, null);
        }
        Map<String, String> following = new TreeMap<>();
        for (Sequence.Place place : Sequence.reach(state, first)) {
            if (place.equals(first)) {
                following.put(place.toString(), announcement.digest());
                continue;
            }
            try {
                following.put(place.toString(), of(state, place, today).digest());
            } catch (Refusal e) {
                // What cannot be announced is not begun by this press; whoever arms it by itself is told why.
                following.remove(place.toString());
            }
        }
        return new OutputEvents.Arming(announcement, following);
    }

    /** Lane and device in words. */
    static String where(RunState state, Step step, String lane) {
        String name = state.procedure().laneName(step, lane);
        return (name.isEmpty() ? "" : name + " of ") + state.opened().asset().position();
    }

    /**
     * What will happen, in words: of the first step, and of how many after it.
     *
     * @param places that are due with this press, the first among them
     */
    public static String words(RunState state, Announcement first, List<Sequence.Place> places) {
        if (places.size() < 2) {
            return first.what();
        }
        long hazards = places.stream()
                .filter(p -> !(p.step().equals(first.step()) && p.lane().equals(first.lane())))
                .filter(p -> state.stepInScope(p.step()).hazard())
                .count();
        return first.what() + "; then on by itself, " + (places.size() - 1) + " more"
                + (hazards == 0 ? "" : ", " + hazards + " of them with output") + ", until a hand is needed";
    }
}
