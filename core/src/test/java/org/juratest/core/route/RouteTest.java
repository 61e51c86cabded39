package org.juratest.core.route;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertNull;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.juratest.core.procedure.Nameplate;
import org.juratest.core.register.FieldProblem;
import org.juratest.core.register.PlateField;
import org.juratest.core.register.PlateSchema;

class RouteTest {

    private static final List<String> KINDS = List.of("end", "joint", "crossing");
    private static final String PLAIN = "0;end;Depot;410;;TES-XYZ-01\n2.4;joint;Joint 1;;30\n5.4;end;Substation;690";

    @Test
    void readsItsOwnForm() throws RouteException {
        Route route = Route.parse(PLAIN, KINDS);
        assertEquals(3, route.points().size());
        assertEquals(
                new RoutePoint(0, "end", "Depot", 410.0, 0, "TES-XYZ-01"),
                route.points().get(0));
        assertEquals(
                new RoutePoint(2.4, "joint", "Joint 1", null, 30, null),
                route.points().get(1));
        assertEquals(5.4, route.length());
        assertEquals(PLAIN, route.print());
    }

    @Test
    void readsPastedTablesWithTheirHeading() throws RouteException {
        String tabs = "km\twhat\tname\theight_m\tslack_m\tposition\r\n0\tend\tDepot\t410\t\tTES-XYZ-01\r\n"
                + "2,4\tjoint\tJoint 1\t\t30\t\r\n5,4\tend\tSubstation\t690\t\t\r\n";
        assertEquals(PLAIN, Route.parse(tabs, KINDS).print());
        String commas = "\"km\",what,name,height_m,slack_m,position\n0,end,\"Depot\",410,,TES-XYZ-01\n"
                + "2.4,joint,Joint 1,,30\n\n5.4,end,Substation,690\n";
        assertEquals(PLAIN, Route.parse(commas, KINDS).print());
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '~',
            value = {
                "0;end;A|1|two ends at least",
                "0;end;A\\n1;joint;B|2|far end",
                "0;joint;A\\n1;end;B|1|near end",
                "0.1;end;A\\n1;end;B|1|near end",
                "0;end;A\\n3;joint;B\\n2;end;C|3|2 km lies before the place above it, 3 km",
                "0;end;A\\n1;pole;B\\n2;end;C|2|one of end, joint, crossing; not \"pole\"",
                "0;end;A\\n1;joint; \\n2;end;C|2|name that people on site",
                "0;end;A\\n1 km;joint;B\\n2;end;C|2|\"1 km\" is no number",
                "0;end;A\\nNaN;joint;B\\n2;end;C|2|\"NaN\" is no number",
                "0;end;A\\n1;joint;B;9001\\n2;end;C|2|-500 to 9000, not 9001",
                "0;end;A\\n1;joint;B;1;-2\\n2;end;C|2|0 to 10000, not -2",
                "0;end;A\\n1;joint;B;1;2;X;7\\n2;end;C|2|7 values; a place has 6 at most",
                "0;end;A\\n1;joint;B\\u0007C\\n2;end;C|2|cannot be shown",
            })
    void refusesNamingTheLine(String text, int line, String words) {
        RouteException e = assertThrows(
                RouteException.class,
                () -> Route.parse(text.replace("\\n", "\n").replace("\\u0007", "\u0007"), KINDS));
        assertEquals(line, e.line(), e.getMessage());
        assertTrue(e.getMessage().contains(words), e.getMessage());
    }

    @Test
    void takesNoMoreThanItsMost() {
        String many = "0;end;A\n" + "1;joint;B\n".repeat(Route.MOST) + "2;end;C";
        assertTrue(assertThrows(RouteException.class, () -> Route.parse(many, KINDS))
                .getMessage()
                .contains("at most " + Route.MOST + " places"));
        String wide = "0;end;" + "A".repeat(Route.LONGEST) + "\n2;end;C";
        assertTrue(assertThrows(RouteException.class, () -> Route.parse(wide, KINDS))
                .getMessage()
                .contains("characters"));
    }

    /** What is printed reads back the same, and turned round twice it is as before. */
    @Test
    void printsWhatItReads() throws RouteException {
        Random random = new Random(4);
        for (int n = 0; n < 200; n++) {
            List<RoutePoint> points = new ArrayList<>();
            points.add(new RoutePoint(0, "end", "A", null, 0, null));
            double km = 0;
            for (int i = 0; i < random.nextInt(20); i++) {
                km += random.nextInt(3000) / 1000.0;
                points.add(new RoutePoint(
                        Math.round(km * 1000) / 1000.0,
                        KINDS.get(random.nextInt(3)),
                        "place " + i,
                        random.nextBoolean() ? null : (double) random.nextInt(2000),
                        random.nextInt(3) * 12.5,
                        random.nextBoolean() ? null : "POS-" + i));
            }
            points.add(new RoutePoint(Math.round((km + 1) * 1000) / 1000.0, "end", "Z", null, 0, null));
            Route route = new Route(points);
            assertEquals(route, Route.parse(route.print(), KINDS));
            assertEquals(route, route.reversed().reversed());
        }
    }

    @Test
    void tellsWhatAPlaceIsBeside() throws RouteException {
        Route.Beside beside = Route.parse(PLAIN, KINDS).beside(2.36);
        assertEquals("Joint 1", beside.point().name());
        assertEquals(-0.04, beside.beyond(), 1e-9);
    }

    @Test
    void aRouteOnAPlateIsCheckedAndKeptInOneForm() {
        PlateSchema schema = new PlateSchema(
                List.of(new PlateField("route", "Route", PlateField.Kind.ROUTE, null, null, null, false, KINDS)));
        assertEquals(List.of(), schema.problems());
        List<FieldProblem> problems = new ArrayList<>();
        Nameplate plate = schema.read(java.util.Map.of("route", "km,what,name\n0.0,end,A\n1.50,end,B\n"), problems);
        assertEquals(List.of(), problems);
        assertEquals("0;end;A\n1.5;end;B", plate.texts().get("route"));
        assertNull(plate.ratings().get("route"));

        schema.read(java.util.Map.of("route", "0;end;A\n1.5;pole;B"), problems);
        assertEquals("plate.route", problems.get(0).field());
        assertTrue(problems.get(0).what().startsWith("Route: Line 2, what:"), problems.toString());
    }
}
