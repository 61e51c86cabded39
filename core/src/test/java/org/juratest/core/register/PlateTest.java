package org.juratest.core.register;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.stream.Collectors;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.juratest.core.condition.Standing;
import org.juratest.core.limit.Verdict;
import org.juratest.core.procedure.Nameplate;
import org.juratest.core.quantity.Quantity;
import org.juratest.core.quantity.Unit;
import org.juratest.core.register.PlateField.Kind;

class PlateTest {

    private static final PlateField CURRENT =
            new PlateField("ratedCurrent", "Rated current", Kind.NUMBER, Unit.AMPERE, 1.0, 6300.0, true, List.of());
    private static final PlateField MEDIUM =
            new PlateField("medium", "Medium", Kind.CHOICE, null, null, null, false, List.of("vacuum", "gas"));
    private static final PlateField NOTE =
            new PlateField("note", "Note", Kind.TEXT, null, null, null, false, List.of());
    private static final PlateSchema SCHEMA = new PlateSchema(List.of(CURRENT, MEDIUM, NOTE));

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "160 | 160 A",
                "0.16 kA | 0.16 kA",
                "1 250,5 | 1250.5 A",
                "1\u2009250 A | 1250 A",
                "0,125 | 0.125 A",
                "12,5 | 12.5 A",
                "\u22124.5 | -4.5 A",
                "1e3 | 1000 A",
                "1250,125 | 1250.125 A",
                ".5 | 0.5 A",
                "2 mA | 2 mA",
                "1.266 | 1.266 A"
            })
    void numbersAreReadAsPeopleTypeThem(String typed, String quantity) {
        String[] parts = quantity.split(" ");
        assertEquals(Quantity.of(Double.parseDouble(parts[0]), parts[1]), TypedQuantity.parse(typed, Unit.AMPERE));
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "1,266 | can be read as 1266 or as 1.266",
                "twelve | is not a number",
                "12 V | V is a voltage",
                "12 furlongs | not a unit known",
                "1.2.3 | not a unit known",
                "1 25 | not a unit known",
                "- | is not a number",
                "1e999 | too large",
                "5 5 A | not a unit known"
            })
    void whatCannotBeReadInOneWayIsRefusedWithARemedy(String typed, String why) {
        IllegalArgumentException e =
                assertThrows(IllegalArgumentException.class, () -> TypedQuantity.parse(typed, Unit.AMPERE));
        assertTrue(e.getMessage().contains(why), e.getMessage());
    }

    @Test
    void whatIsPrintedIsReadAsTheSame() {
        Random random = new Random(7);
        List<Unit> units = Unit.all();
        for (int i = 0; i < 5000; i++) {
            Unit usual = units.get(random.nextInt(units.size()));
            List<Unit> alike = units.stream()
                    .filter(u -> u.dimension().equals(usual.dimension()))
                    .toList();
            double value =
                    switch (random.nextInt(3)) {
                        case 0 -> random.nextInt(100_000) - 50_000;
                        case 1 -> random.nextInt(100_000) / 1000.0;
                        default -> Math.scalb(random.nextDouble() - 0.5, random.nextInt(120) - 60);
                    };
            Quantity quantity = new Quantity(value, alike.get(random.nextInt(alike.size())));
            assertEquals(quantity, TypedQuantity.parse(TypedQuantity.print(quantity, usual), usual));
        }
    }

    private static Map<String, String> wrong(Map<String, String> typed) {
        List<FieldProblem> problems = new ArrayList<>();
        SCHEMA.read(typed, problems);
        return problems.stream().collect(Collectors.toMap(FieldProblem::field, FieldProblem::what));
    }

    @Test
    void aPlateIsCheckedValueByValueInTheUnitOfTheField() {
        assertEquals(Map.of(), wrong(Map.of("ratedCurrent", "0.4 kA", "medium", "gas", "note", " ")));
        assertEquals(
                "Rated current is 1 to 6300 A, not 7000.",
                wrong(Map.of("ratedCurrent", "7 kA")).get("plate.ratedCurrent"));
        Map<String, String> all =
                wrong(Map.of("ratedCurrent", "much", "medium", "air", "colour", "red", "note", "x".repeat(201)));
        assertEquals(
                java.util.Set.of("plate.ratedCurrent", "plate.medium", "plate.colour", "plate.note"), all.keySet());
        assertEquals("Medium is one of vacuum, gas; not \"air\".", all.get("plate.medium"));
        assertEquals(java.util.Set.of("plate.ratedCurrent"), wrong(Map.of()).keySet());
        // A number where words belong, and the other way round.
        Nameplate mixed = new Nameplate(Map.of("medium", Quantity.amperes(1)), Map.of("ratedCurrent", "one"));
        assertEquals(
                List.of("Rated current is a number, not words.", "Medium is a word, not a number."),
                SCHEMA.check(mixed).stream().map(FieldProblem::what).toList());
        Nameplate voltage = new Nameplate(Map.of("ratedCurrent", Quantity.of(400, "V")), Map.of());
        assertEquals(
                "Rated current is a current in A, not a voltage.",
                SCHEMA.check(voltage).get(0).what());
    }

    @Test
    void aPlateComesBackAsItWasTyped() {
        Map<String, String> typed =
                new HashMap<>(Map.of("ratedCurrent", "0.4 kA", "medium", "gas", "note", "as found"));
        Nameplate plate = SCHEMA.read(typed, new ArrayList<>());
        assertEquals(typed, SCHEMA.print(plate));
        // What the schema does not foresee any more is not lost.
        assertEquals(
                Map.of("ratedCurrent", "0.4 kA", "medium", "gas", "note", "as found"),
                new PlateSchema(List.of(CURRENT)).print(plate));
    }

    @Test
    void aSchemaThatCannotBeKeptIsToldFieldByField() {
        PlateSchema bad = new PlateSchema(List.of(
                CURRENT,
                CURRENT,
                new PlateField("Two words", "", Kind.NUMBER, null, 5.0, 1.0, false, List.of("a")),
                new PlateField("pick", "Pick", Kind.CHOICE, Unit.VOLT, 1.0, null, false, List.of("a", "a"))));
        assertEquals(
                List.of(
                        "fields[1].key",
                        "fields[2].key",
                        "fields[2].label",
                        "fields[2].unit",
                        "fields[2].max",
                        "fields[2].choices",
                        "fields[3].unit",
                        "fields[3].min",
                        "fields[3].choices"),
                bad.problems().stream().map(FieldProblem::field).toList());
        assertEquals(List.of(), SCHEMA.problems());
    }

    @ParameterizedTest
    @CsvSource({
        "PASS, true, SOUND",
        "PASS, false, UNKNOWN",
        "MARGINAL_INSIDE, true, WATCH",
        "MARGINAL_INSIDE, false, UNKNOWN",
        "NOT_JUDGED, true, UNKNOWN",
        "MARGINAL_OUTSIDE, true, ACT",
        "FAIL, true, ACT",
        "FAIL, false, ACT"
    })
    void standingFollowsFromTheRecord(Verdict verdict, boolean complete, Standing standing) {
        assertEquals(standing, Standing.of(verdict, complete));
    }
}
