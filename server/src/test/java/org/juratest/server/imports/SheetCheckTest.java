package org.juratest.server.imports;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.juratest.core.procedure.Nameplate;
import org.juratest.core.quantity.Quantity;
import org.juratest.core.quantity.Unit;
import org.juratest.core.register.PlateField;
import org.juratest.core.register.PlateField.Kind;
import org.juratest.server.register.AssetClasses.ClassView;
import org.juratest.server.register.ExtraFields.ExtraField;

/** Rows against a register of one site with two breakers, one of them barred, and an empty position. */
class SheetCheckTest {

    private static final Instant NOW = Instant.parse("2026-11-25T10:00:00Z");
    private static final Instant SINCE = Instant.parse("2024-05-01T00:00:00Z");
    private static final Nameplate PLATE = new Nameplate(Map.of("ratedCurrent", Quantity.amperes(160)), Map.of());

    private static Known known() {
        ClassView breaker = new ClassView(
                "lv-breaker",
                "breakers",
                "Breaker",
                "CBK",
                List.of(
                        new PlateField(
                                "ratedCurrent",
                                "Rated current",
                                Kind.NUMBER,
                                Unit.AMPERE,
                                1.0,
                                6300.0,
                                true,
                                List.of()),
                        new PlateField("note", "Note", Kind.TEXT, null, null, null, false, List.of())),
                List.of(new ExtraField(1, "key", "Key")),
                2,
                0);
        ClassView meter = new ClassView("meter", "meters", "Meter", "MET", List.of(), List.of(), 0, 0);
        Map<String, Known.Asset> assets = new HashMap<>();
        assets.put("CBK-1", asset("CBK-1", "s1", "MFR-1", null));
        assets.put("CBK-2", asset("CBK-2", "s2", "MFR-2", "cracked"));
        assets.put("CBK-3", asset("CBK-3", "s3", null, null));
        assets.put("CBK-8", asset("CBK-8", "s8", null, "worn"));
        Map<String, String> devices = new HashMap<>();
        assets.values().forEach(a -> devices.put(Known.device(a.maker(), a.model(), a.serial()), a.id()));
        return new Known(
                Map.of("MFR", new Known.Site("MFR", "Montfrel", 5.4, 690, "UTC")),
                Map.of("MFR-M", new Known.Measuring("MFR-M", "MFR", "Whole")),
                Map.of(
                        "MFR-1",
                        place("MFR-1", false),
                        "MFR-2",
                        place("MFR-2", false),
                        "MFR-3",
                        place("MFR-3", false),
                        "MFR-4",
                        place("MFR-4", true)),
                assets,
                devices,
                Map.of("lv-breaker", breaker, "meter", meter),
                Map.of("MFR", Map.of("door", new ExtraField(2, "door", "Door"))),
                Set.of("orvex-m160"),
                Set.of("CBK-2"),
                Map.of("CBK-3", Instant.parse("2025-03-01T00:00:00Z"), "MFR-3", Instant.parse("2025-06-01T00:00:00Z")),
                Map.of("CBK-1", Instant.parse("2025-09-01T00:00:00Z")));
    }

    private static Known.Asset asset(String id, String serial, String position, String barred) {
        return new Known.Asset(
                id,
                "lv-breaker",
                "Orvex",
                "M160",
                serial,
                null,
                PLATE,
                Map.of(),
                barred,
                false,
                position,
                position == null ? null : SINCE);
    }

    private static Known.Position place(String code, boolean retired) {
        return new Known.Position(code, "MFR", "breakers", "", null, null, Map.of(), retired);
    }

    /** Rows such as {@code position=MFR-3 asset=CBK-3}; an underscore is a blank. */
    private static SheetCheck check(String... rows) {
        Set<String> named = new java.util.HashSet<>();
        List.of(rows).forEach(r -> List.of(r.split(" "))
                .forEach(c -> named.add(c.startsWith("asset=") ? c.substring(6) : "")));
        SheetCheck check = new SheetCheck(known(), NOW, named);
        for (int i = 0; i < rows.length; i++) {
            Map<String, String> cells = new LinkedHashMap<>();
            for (String cell : rows[i].split(" ")) {
                cells.put(
                        cell.substring(0, cell.indexOf('=')),
                        cell.substring(cell.indexOf('=') + 1).replace('_', ' '));
            }
            check.row(i + 2, cells);
        }
        return check;
    }

    private static List<String> problems(SheetCheck check) {
        List<String> told = new ArrayList<>();
        check.problems().forEach(p -> told.add(p.line() + " " + p.field() + ": " + p.what()));
        return told;
    }

    private static final String NEW = "class=lv-breaker maker=Orvex model=M160 plate.ratedCurrent=100";

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "site.name=X | 2 : The row tells of no site",
                "site=MFR site.km=far | 2 site.km: \"far\" is not a number",
                "site=MFR site.altitude=99999 | 2 site.altitude: It is -500 to 9000",
                "site=MFR site.zone=Moon | 2 site.zone: \"Moon\" is not a time zone",
                "site=mfr site.name=x site.km=1 | 2 site: \"mfr\" does not do as a code",
                "position=NEW-1 position.family=breakers | 2 site: NEW-1 is new: say at which site",
                "site=MFR position=NEW-1 | 2 position.family: NEW-1 is new and empty",
                "site=MFR position=MFR-4 | 2 position: MFR-4 is retired",
                "position=MFR-1 position.family=meters | 2 position.family: MFR-1 is for breakers",
                "position=MFR-3 position.extra.gate=x | 2 position.extra.gate: The site MFR has no own field \"gate\"",
                "site=MFR measuring.title=x | 2 measuring.title: There is no measuring installation in this row",
                "site=MFR position.title=x | 2 position.title: There is no position in this row",
                "asset=CBK-1 class=meter | 2 class: CBK-1 is of the class lv-breaker",
                "site=MFR position=NEW-1 class=Breaker maker=O model=M serial=9 | 2 class: There is no class "
                        + "\"Breaker\"; use the code of one, such as lv-breaker, or",
                "asset=CBK-1 curve=nothing | 2 curve: There is no curve \"nothing\"",
                "asset=CBK-1 serial=s3 | 2 serial: This device is in the register already, as CBK-3",
                "asset=CBK-1 plate.ratedCurrent=0 | 2 plate.ratedCurrent: Rated current is 1 to 6300 A, not 0",
                "asset=CBK-1 plate.poles=3 | 2 plate.poles: The plates of this class have no value \"poles\"",
                "asset=CBK-1 asset.extra.key=ok since=2025-01-01 | 2 since: It says since when, but not where",
                "asset=CBK-9 serial=x class=lv-breaker maker=O | 2 model: CBK-9 is new: its model is missing",
                "asset=MFR-1 serial=x class=lv-breaker maker=O model=M | 2 asset: There is a position or a "
                        + "measuring installation MFR-1",
                "position=MFR-1 asset=CBK-3 | 2 since: CBK-1 stands at MFR-1 in the register; say since when CBK-3",
                "position=MFR-2 asset=CBK-3 since=2026-01-01 | 2 asset: A run is open on CBK-2",
                "position=MFR-1 asset=CBK-1 since=2025-01-01 | 2 since: CBK-1 stands there since 2024-05-01",
                "position=MFR-1 class=lv-breaker maker=Orvex model=M160 plate.ratedCurrent=100 serial=n1 "
                        + "since=2025-08-01 | 2 since: CBK-1 was tested at MFR-1 on 2025-09-01",
                "position=MFR-3 asset=CBK-8 | 2 asset: CBK-8 is not to be used: worn",
                "position=MFR-3 asset=CBK-3 since=2025-05-01 | 2 since: Another device stood at MFR-3 until 2025-06-01",
                "position=MFR-3 asset=CBK-3 since=2027-01-01 | 2 since: The day lies ahead"
            })
    void whatIsWrongInARowIsToldWithItsFieldAndRemedy(String row, String told) {
        List<String> problems = problems(check(row));
        assertEquals(1, problems.size(), problems.toString());
        assertTrue(problems.get(0).startsWith(told), problems.get(0));
    }

    @Test
    void rowsAreHeldAgainstEachOther() {
        assertEquals(
                List.of("3 asset: CBK-1 is in line 2 already; an asset has one row."),
                problems(check("asset=CBK-1", "asset=CBK-1")));
        assertEquals(
                List.of("3 position: MFR-1 is in line 2 already; a position has one row."),
                problems(check("position=MFR-1", "position=MFR-1")));
        assertTrue(problems(check("site=MFR site.name=A", "site=MFR site.name=B"))
                .get(0)
                .startsWith("3 site: An earlier row says something else of the site MFR"));
        assertEquals(List.of(), problems(check("site=MFR site.name=A", "site=MFR", "site=MFR site.name=A")));
        assertTrue(problems(check(NEW + " serial=n1", NEW + " serial=n1"))
                .get(0)
                .startsWith("3 serial: The same maker, model and serial number are in line 2"));
    }

    @Test
    void aBlankCellChangesNothingAndWhatIsSaidAgainIsAlike() {
        SheetCheck same =
                check("site=MFR site.name=Montfrel site.km=5.4 position=MFR-1 asset=CBK-1 maker=Orvex serial=s1 "
                        + "plate.ratedCurrent=160");
        assertEquals(List.of(), problems(same));
        assertTrue(same.sites().isEmpty()
                && same.positions().isEmpty()
                && same.assets().isEmpty()
                && same.placings().isEmpty());
        assertEquals(List.of(1L, 1L, 1L), List.of(same.sitesAlike(), same.positionsAlike(), same.assetsAlike()));
        Known.Asset changed =
                check("asset=CBK-1 plate.note=worn asset.extra.key=4").assets().get("CBK-1");
        assertEquals(Map.of("note", "worn"), changed.plate().texts());
        assertEquals(PLATE.ratings(), changed.plate().ratings());
        assertEquals(Map.of("key", "4"), changed.extra());
        // The same quantity in another unit is what the plate says now.
        assertEquals(
                new Quantity(0.16, Unit.KILOAMPERE),
                check("asset=CBK-1 plate.ratedCurrent=0.16_kA")
                        .assets()
                        .get("CBK-1")
                        .plate()
                        .ratings()
                        .get("ratedCurrent"));
    }

    @Test
    void newDevicesGetIdsThatNobodyHasAndKnownOnesAreFoundByTheirPlate() {
        SheetCheck check = check(
                NEW + " serial=n1",
                "asset=CBK-4 " + NEW + " serial=n2",
                NEW + " serial=n3",
                "maker=Orvex model=M160 serial=s3 plate.note=back",
                "class=meter maker=D model=E serial=1");
        assertEquals(List.of(), problems(check));
        assertEquals(
                List.of("CBK-9", "CBK-4", "CBK-10", "CBK-3", "MET-1001"),
                List.copyOf(check.assets().keySet()));
        assertFalse(check.assets().get("CBK-3").plate().texts().isEmpty());
    }

    @Test
    void whatMovesSaysWhatLeavesForIt() {
        SheetCheck check =
                check("position=MFR-3 asset=CBK-1 since=01.02.2026", "position=MFR-1 asset=CBK-3 since=2026-02-01");
        assertEquals(List.of(), problems(check));
        assertEquals(
                List.of(
                        new SheetCheck.Placing(
                                2, "CBK-1", "MFR-3", Instant.parse("2026-02-01T00:00:00Z"), null, "MFR-1"),
                        new SheetCheck.Placing(
                                3, "CBK-3", "MFR-1", Instant.parse("2026-02-01T00:00:00Z"), "CBK-1", null)),
                check.placings());
        SheetCheck first = check("position=MFR-3 asset=CBK-3");
        assertEquals(List.of(new SheetCheck.Placing(2, "CBK-3", "MFR-3", NOW, null, null)), first.placings());
    }

    @Test
    void titlesAreUnderstoodWhereTheySayClearlyEnoughWhatTheyAre() {
        Map<String, SheetField> fields =
                SheetField.all(List.copyOf(known().classes().values()), known().siteFields());
        assertEquals(
                List.of(
                        "site",
                        "site.name",
                        "site.km",
                        "position",
                        "serial",
                        "model",
                        "plate.ratedCurrent",
                        "plate.ratedCurrent",
                        "asset.extra.key",
                        "",
                        "since"),
                List.of(
                                "Site",
                                "site name",
                                "KM",
                                "Position code",
                                "S/N",
                                "Type",
                                "rated_current",
                                "Rated current (A)",
                                "Key",
                                "Colour",
                                "Installed on")
                        .stream()
                        .map(t -> SheetField.guessed(List.of(t), fields).get(0))
                        .toList());
        // One field is one column: the first that is meant.
        assertEquals(List.of("serial", ""), SheetField.guessed(List.of("serial", "Serial number"), fields));
    }
}
