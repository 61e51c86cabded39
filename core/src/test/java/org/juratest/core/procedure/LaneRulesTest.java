package org.juratest.core.procedure;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertNull;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import org.juratest.core.quantity.Quantity;
import org.juratest.core.quantity.Unit;
import org.juratest.core.run.RunFixture;

class LaneRulesTest {

    private static final LaneSet SLOTS =
            new LaneSet("slot", null, List.of(), new LaneRule("slots", 24, "no. {n}", List.of("red", "white")), null);
    private static final LaneSet WAYS = new LaneSet(
            "way", null, List.of(new Lane("in", "in", List.of(), null), new Lane("out", "out", List.of(), null)));

    private static Procedure with(Map<String, LaneSet> sets, String lanes) {
        Procedure p = RunFixture.procedure();
        Step step =
                Step.builder("look", StepKind.INSPECTION, "Look").lanes(lanes).build();
        return new Procedure(
                p.format(),
                p.code(),
                p.version(),
                p.title(),
                p.family(),
                p.appliesTo(),
                p.rule(),
                p.gear(),
                sets,
                List.of(step));
    }

    private static Procedure both() {
        Map<String, LaneSet> sets = new LinkedHashMap<>();
        sets.put("pairs", new LaneSet("pair", null, List.of(), null, List.of("slots", "ways")));
        sets.put("slots", SLOTS);
        sets.put("ways", WAYS);
        return with(sets, "pairs");
    }

    private static Nameplate plate(double slots) {
        return new Nameplate(Map.of("slots", new Quantity(slots, Unit.ONE)), Map.of());
    }

    @Test
    void asManyLanesAsThePlateSaysWithColoursInTurn() {
        Procedure fitted = ProcedureResolver.resolve(with(Map.of("slots", SLOTS), "slots"), plate(3), null);
        List<Lane> lanes = fitted.laneSets().get("slots").lanes();
        assertEquals(List.of("1", "2", "3"), lanes.stream().map(Lane::id).toList());
        assertEquals(
                List.of("no. 1", "no. 2", "no. 3"),
                lanes.stream().map(Lane::label).toList());
        assertEquals(
                List.of("red", "white", "red"), lanes.stream().map(Lane::colour).toList());
        assertNull(fitted.laneSets().get("slots").rule(), "what a run is opened with lists them");
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = ';',
            value = {"green, yellow; green yellow green", " pink ,, grey ,; pink grey pink", "' , '; red white red"})
    void aDevicesOwnColoursGoBeforeThoseOfTheProcedure(String own, String expected) {
        LaneRule rule = new LaneRule("slots", 24, "no. {n}", List.of("red", "white"), "colours", null);
        Nameplate plate = new Nameplate(plate(3).ratings(), Map.of("colours", own));
        Procedure fitted = ProcedureResolver.resolve(
                with(Map.of("slots", new LaneSet("slot", null, List.of(), rule, null)), "slots"), plate, null);
        assertEquals(
                expected,
                fitted.laneSets().get("slots").lanes().stream()
                        .map(Lane::colour)
                        .collect(Collectors.joining(" ")));
    }

    private static Procedure chosen() {
        LaneChoice only =
                new LaneChoice(List.of("frame", "used"), Map.of("wide/inner dark", "1-2, 6", "wide/none dark", "all"));
        LaneRule rule = new LaneRule("slots", 24, "no. {n}", List.of("red", "white"), null, only);
        return with(Map.of("slots", new LaneSet("slot", null, List.of(), rule, null)), "slots");
    }

    /** By words that a table knows, by numbers, or all; each keeps its number and its colour. */
    @ParameterizedTest
    @CsvSource(
            delimiter = ';',
            value = {
                "wide; inner dark; 1 red 2 white 6 white",
                "wide; none dark; 1 red 2 white 3 red 4 white 5 red 6 white",
                "narrow; 3, 5 - 6; 3 red 5 red 6 white",
                "narrow; all; 1 red 2 white 3 red 4 white 5 red 6 white",
                "narrow; ''; 1 red 2 white 3 red 4 white 5 red 6 white"
            })
    void aDeviceHasTheLanesThatItsPlateSays(String frame, String used, String expected) {
        Nameplate plate = new Nameplate(plate(6).ratings(), Map.of("frame", frame, "used", used));
        assertEquals(
                expected,
                ProcedureResolver.resolve(chosen(), plate, null).laneSets().get("slots").lanes().stream()
                        .map(l -> l.id() + " " + l.colour())
                        .collect(Collectors.joining(" ")));
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = ';',
            value = {
                "narrow; inner dark; by numbers",
                "wide; 5-9; there are 1 to 6",
                "wide; 0; 1 to 6",
                "wide; 4-2; 1 to 6"
            })
    void lanesThatNobodyKnowsAreRefusedInWords(String frame, String used, String words) {
        Nameplate plate = new Nameplate(plate(6).ratings(), Map.of("frame", frame, "used", used));
        UnfitDeviceException e =
                assertThrows(UnfitDeviceException.class, () -> ProcedureResolver.resolve(chosen(), plate, null));
        assertTrue(String.valueOf(e.getMessage()).contains(words), e.getMessage());
    }

    /** A lane that only some devices have, by a word on their plates. */
    @Test
    void aLaneIsThereWhereThePlateSaysSo() {
        LaneSet ways = new LaneSet(
                "way",
                null,
                List.of(
                        new Lane("a", "a", List.of(), null, null, null, null, "kind=wide"),
                        new Lane("b", "b", List.of(), null, null, null, null, "kind=narrow"),
                        new Lane("c", "c", List.of(), null)));
        Nameplate plate = new Nameplate(Map.of(), Map.of("kind", "narrow"));
        assertEquals(
                List.of("b", "c"),
                ProcedureResolver.resolve(with(Map.of("ways", ways), "ways"), plate, null)
                        .laneSets()
                        .get("ways")
                        .lanes()
                        .stream()
                        .map(Lane::id)
                        .toList());
    }

    @Test
    void eachOfOneSetWithEachOfAnother() {
        Procedure fitted = ProcedureResolver.resolve(both(), plate(2), null);
        Step step = fitted.steps().get(0);
        assertEquals(
                List.of("1.in", "1.out", "2.in", "2.out"),
                fitted.lanesOf(step, Scope.ALL),
                "the first set goes slowest");
        assertEquals("pair no. 2 in", fitted.laneName(step, "2.in"));
        assertEquals("2", fitted.laneIn(step, "2.in", "slots"));
        assertEquals("in", fitted.laneIn(step, "2.in", "ways"));
        assertEquals("2.in", fitted.laneIn(step, "2.in", "pairs"));
        assertNull(fitted.laneIn(step, "2.in", "poles"));
        assertEquals(
                List.of("2", "in"),
                fitted.laneSets().get("pairs").lane("2.in").orElseThrow().touches(),
                "what failed on a part forbids the pair");
    }

    @ParameterizedTest
    @ValueSource(doubles = {0, -1, 2.5, 25, 1e9})
    void aCountThatIsNoneIsRefusedInWords(double count) {
        UnfitDeviceException e = assertThrows(
                UnfitDeviceException.class,
                () -> ProcedureResolver.resolve(with(Map.of("slots", SLOTS), "slots"), plate(count), null));
        assertTrue(String.valueOf(e.getMessage()).contains("1 to 24 slots"), e.getMessage());
    }

    @Test
    void withoutACountNobodyKnows() {
        UnfitDeviceException e = assertThrows(
                UnfitDeviceException.class,
                () -> ProcedureResolver.resolve(
                        with(Map.of("slots", SLOTS), "slots"), new Nameplate(Map.of(), Map.of()), null));
        assertEquals("The nameplate has no \"slots\": nobody knows how many slots it has.", e.getMessage());
    }

    @Test
    void lanesAreMadeInOneWay() {
        Map<String, LaneSet> sets = Map.of(
                "none", new LaneSet("slot", null, List.of()),
                "two", new LaneSet("slot", null, WAYS.lanes(), SLOTS.rule(), null),
                "ofNothing", new LaneSet("slot", null, List.of(), null, List.of("none", "elsewhere")),
                "unnumbered",
                        new LaneSet("slot", null, List.of(), new LaneRule("slots", 5000, "slot", List.of()), null));
        List<String> problems = ProcedureCheck.problems(with(sets, "two"), m -> null).stream()
                .map(ProcedureCheck.Problem::path)
                .filter(p -> p.startsWith("laneSets"))
                .sorted()
                .toList();
        assertEquals(
                List.of(
                        "laneSets.none",
                        "laneSets.ofNothing.product",
                        "laneSets.two",
                        "laneSets.unnumbered.rule.label",
                        "laneSets.unnumbered.rule.most"),
                problems);
    }
}
