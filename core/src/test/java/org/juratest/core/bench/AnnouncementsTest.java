package org.juratest.core.bench;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertNotEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import org.juratest.core.procedure.Param;
import org.juratest.core.procedure.Procedure;
import org.juratest.core.procedure.ProcedureResolver;
import org.juratest.core.procedure.Step;
import org.juratest.core.run.Announcement;
import org.juratest.core.run.AttemptEvents;
import org.juratest.core.run.EventData;
import org.juratest.core.run.GearFacts;
import org.juratest.core.run.OutputEvents;
import org.juratest.core.run.Refusal;
import org.juratest.core.run.RunEvents;
import org.juratest.core.run.RunFixture;

/**
 * What is announced is the least of what procedure, gear and site allow, and nothing that is changed in a run moves a
 * greatest value.
 */
class AnnouncementsTest {

    private static final Sequence.Place TRIP = new Sequence.Place("trip", "B");

    /**
     * The trip step with a multiple of the long-time setting (100 A) that may be changed to 2 to 3.2, as breakers have
     * it.
     */
    private static Procedure multiple(Procedure p, Param.Range range) {
        List<Step> steps = new ArrayList<>();
        for (Step s : p.steps()) {
            if (!s.id().equals("trip")) {
                steps.add(s);
                continue;
            }
            Map<String, Param> params = new TreeMap<>(s.params());
            params.put("multiple", new Param(3.0, null, Map.of(), "1", null, null, range));
            params.put(
                    "current",
                    new Param(
                            null,
                            "m * ir",
                            Map.of("m", "param:multiple", "ir", "nameplate:longTimeSetting"),
                            "A",
                            null));
            Map<String, Param> maxima = Map.of(
                    "current",
                    new Param(
                            null,
                            "1.1 * m * ir",
                            Map.of("m", "param:multiple", "ir", "nameplate:longTimeSetting"),
                            "A",
                            null),
                    "time",
                    new Param(null, "1.5 * late", Map.of("late", "curve:latest"), "s", null));
            steps.add(Step.builder(s.id(), s.kind(), s.title())
                    .text(s.text())
                    .method(s.method())
                    .lanes(s.lanes())
                    .params(params)
                    .maxima(maxima)
                    .gear(s.gear())
                    .hazard(s.hazard())
                    .hold(s.hold())
                    .minutes(s.minutes())
                    .required(s.required())
                    .notAfterFailIn(s.notAfterFailIn())
                    .coolMinutes(s.coolMinutes())
                    .repeats(s.repeats())
                    .points(s.points())
                    .build());
        }
        Procedure changed = RunFixture.withSteps(p, steps);
        return ProcedureResolver.resolve(
                changed, new RunFixture().state().opened().asset().nameplate(), RunFixture.band());
    }

    private static RunFixture told(Param.Range range) {
        return new RunFixture(p -> multiple(p, range)).confirmAll();
    }

    private static double greatest(RunFixture told, String name) {
        return told.state()
                .procedure()
                .step("trip")
                .orElseThrow()
                .maxima()
                .get(name)
                .value();
    }

    @Test
    void greatestValuesHoldOverTheWholePublishedRangeAndAreMovedByNothing() {
        RunFixture told = told(new Param.Range(2, 3.2));
        assertEquals(1.1 * 3.2 * 100, greatest(told, "current"), 1e-9);
        // The longest time is that at the least multiple: 55.6 s at 2 x by the band's own law, 1.5 times.
        double latest = RunFixture.band().time("latest", 200).orElseThrow();
        assertEquals(1.5 * latest, greatest(told, "time"), 1e-9);
        told.act(new AttemptEvents.ParamChanged("trip", "multiple", null, 2, "weak feed"));
        assertEquals(352, greatest(told, "current"), 1e-9, "a change within the range moves nothing");
        assertEquals(
                200,
                told.state()
                        .procedure()
                        .step("trip")
                        .orElseThrow()
                        .params()
                        .get("current")
                        .value());
        assertEquals(1.5 * latest, greatest(told, "time"), 1e-9);
    }

    /** A parameter that values were measured with stays; one that only drives the test may still be set anew. */
    @Test
    void onlyWhatIsLearnedChangesOnceItWasMeasuredWith() {
        for (Boolean learned : new Boolean[] {null, true}) {
            RunFixture told = new RunFixture(p -> RunFixture.withSteps(
                            p,
                            p.steps().stream()
                                    .map(s -> s.id().equals("trip") ? driven(s, learned) : s)
                                    .toList()))
                    .confirmAll();
            told.attempt("trip/time/A", 24);
            EventData change = new AttemptEvents.ParamChanged("trip", "drive", "A", 1.1, "nudged");
            if (learned == null) {
                assertEquals(
                        "already-measured",
                        assertThrows(Refusal.class, () -> change.check(told.state()))
                                .code());
            } else {
                told.act(change);
                assertEquals(
                        1.1,
                        told.state()
                                .procedure()
                                .step("trip")
                                .orElseThrow()
                                .at("A")
                                .params()
                                .get("drive")
                                .value());
                assertEquals(
                        "out-of-range",
                        assertThrows(Refusal.class, () -> new AttemptEvents.ParamChanged(
                                                "trip", "drive", "A", 1.3, "more")
                                        .check(told.state()))
                                .code());
            }
        }
    }

    private static Step driven(Step step, Boolean learned) {
        Map<String, Param> params = new TreeMap<>(step.params());
        params.put("drive", new Param(1.0, null, Map.of(), "1", null, null, new Param.Range(0.8, 1.25), learned));
        return step.toBuilder().params(params).build();
    }

    @ParameterizedTest
    @ValueSource(doubles = {30, 3.21, 1.99, -3, 0, 1e308, Double.NaN, Double.POSITIVE_INFINITY})
    void aChangeOutsideTheRangeIsRefusedInWords(double multiple) {
        RunFixture told = told(new Param.Range(2, 3.2));
        Refusal refusal = assertThrows(
                Refusal.class,
                () -> new AttemptEvents.ParamChanged("trip", "multiple", null, multiple, "why").check(told.state()));
        assertTrue(List.of("out-of-range", "not-a-number").contains(refusal.code()), refusal.getMessage());
        assertTrue(
                refusal.code().equals("not-a-number") || refusal.getMessage().contains("2 to 3.2"),
                refusal.getMessage());
    }

    /** Without a range of its own a parameter is bounded by the greatest values of what follows from it. */
    @Test
    void whatFollowsFromAChangeStaysBelowThePublishedGreatestValue() {
        RunFixture told = told(null);
        assertEquals(330, greatest(told, "current"), 1e-9);
        Refusal refusal =
                assertThrows(Refusal.class, () -> new AttemptEvents.ParamChanged("trip", "multiple", null, 30, "why")
                        .check(told.state()));
        assertEquals("above-maximum", refusal.code());
        assertTrue(
                refusal.getMessage().contains("3000 A") && refusal.getMessage().contains("330 A"),
                refusal.getMessage());
        Refusal lane =
                assertThrows(Refusal.class, () -> new AttemptEvents.ParamChanged("trip", "current", "B", 331, "why")
                        .check(told.state()));
        assertEquals("above-maximum", lane.code());
        told.act(new AttemptEvents.ParamChanged("trip", "multiple", null, 3.2, "why"));
        assertEquals(330, greatest(told, "current"), 1e-9);
    }

    @Test
    void theLeastOfProcedureGearAndSiteCounts() {
        RunFixture told = told(null);
        assertEquals(
                300,
                Announcements.of(told.state(), TRIP, RunFixture.TODAY)
                        .settings()
                        .get("current")
                        .value());
        GearFacts inj = told.gear("inj");
        told.add(new RunEvents.GearChosen(new GearFacts(
                inj.id(),
                inj.need(),
                inj.role(),
                "Small set",
                inj.maker(),
                inj.model(),
                inj.serial(),
                inj.calibratedOn(),
                inj.calibratedTo(),
                inj.certificate(),
                inj.accuracy(),
                null,
                Map.of("current", 250.0))));
        Refusal refusal = assertThrows(Refusal.class, () -> Announcements.of(told.state(), TRIP, RunFixture.TODAY));
        assertEquals("above-maximum", refusal.code());
        assertEquals(
                "The current of 300 A is above the greatest allowed, 250 A: Small set, its range.",
                refusal.getMessage());
    }

    @Test
    void anAnnouncementIsAFunctionOfTheStateAndChangesWithIt() {
        RunFixture told = told(new Param.Range(2, 3.2));
        Announcement before = Announcements.of(told.state(), TRIP, RunFixture.TODAY);
        assertEquals(before, Announcements.of(told.state(), TRIP, RunFixture.TODAY));
        assertEquals(List.of("inj-1"), before.gear());
        assertEquals(List.of("CurrentSource"), before.outputs());
        told.act(new AttemptEvents.ParamChanged("trip", "multiple", null, 2.5, "why"));
        Announcement after = Announcements.of(told.state(), TRIP, RunFixture.TODAY);
        assertNotEquals(before.digest(), after.digest());
        assertEquals(250, after.settings().get("current").value());
        assertTrue(
                after.boundsOf("current").stream()
                        .noneMatch(b -> b.allows(251) && b.source().equals("announced")),
                after.toString());
    }

    @Test
    void onePressAnnouncesEveryPlaceItMayComeTo() {
        RunFixture told = told(null);
        OutputEvents.Arming arming = Announcements.arming(
                told.state(), new Sequence.Place("contact", "A"), true, told.now(), RunFixture.TODAY);
        assertEquals(
                java.util.Set.of("contact/A", "contact/B", "contact/C"),
                arming.following().keySet());
        assertEquals(arming.first().digest(), arming.following().get("contact/A"));
        assertEquals(
                null,
                Announcements.arming(told.state(), TRIP, false, told.now(), RunFixture.TODAY)
                        .following());
    }

    @Test
    void aRangeIsFiniteGoesUpAndHoldsItsOwnValue() {
        assertThrows(IllegalArgumentException.class, () -> new Param.Range(3, 2));
        assertThrows(IllegalArgumentException.class, () -> new Param.Range(Double.NaN, 2));
        assertThrows(IllegalArgumentException.class, () -> new Param.Range(1, Double.POSITIVE_INFINITY));
        assertThrows(
                IllegalArgumentException.class,
                () -> new Param(5.0, null, Map.of(), "A", null, null, new Param.Range(1, 4)));
        assertFalse(new Param.Range(1, 4).has(Double.NaN));
    }
}
