package org.juratest.e2e;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.juratest.e2e.browser.Technician;
import org.juratest.e2e.browser.Technician.Hands;
import org.juratest.server.command.ApiClient;

/** Every main screen against WCAG 2.1, level AA, by axe; in both schemes, as contrast is a matter of each. */
class AccessibilityTest {

    private static final Path AXE = Path.of("../web/node_modules/axe-core/axe.min.js");
    private static final String RUN =
            """
      const done = arguments[arguments.length - 1];
      axe.run(document, { runOnly: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa'] }).then(
        (r) => done(r.violations.map((v) => v.id + ': ' + v.help + ' | '
          + v.nodes.slice(0, 4).map((n) => n.target.join(' ') + ' ' + n.html.slice(0, 120)).join(' || '))),
        (e) => done(['axe failed: ' + e]));""";

    @TempDir
    private static Path folder;

    private static Installation installation;

    @BeforeAll
    static void start() throws Exception {
        installation = Installation.laid(folder, Path.of(".."));
        installation.startSimulators(100);
        installation.startServer();
    }

    @AfterAll
    static void stop() {
        installation.close();
    }

    private static List<String> violations(Technician it, String where) throws Exception {
        it.browser().executeScript(Files.readString(AXE));
        List<String> found = new ArrayList<>();
        ((List<?>) it.browser().executeAsyncScript(RUN)).forEach(v -> found.add(where + ": " + v));
        return found;
    }

    /** Screens by address, each with what is there once it is laid out. */
    private static Map<String, String> screens(String run, String record, String asset) {
        return Map.ofEntries(
                Map.entry("/round", "[aria-label=Stops]"),
                Map.entry("/days", "[data-day-of]"),
                Map.entry("/plan", "[role=grid]"),
                Map.entry("/plan/share", "[data-ask-proposal]"),
                Map.entry("/plan/plans", "tr[data-plan]"),
                Map.entry("/plan/needs", "section[aria-label='Outages and permits']"),
                Map.entry("/plan/compliance", "main h1, main h2"),
                Map.entry("/bench/" + run, "[data-sentence], [aria-label=Device]"),
                Map.entry("/records", "[data-record], table"),
                Map.entry("/records/" + record, "[data-headline]"),
                Map.entry("/asset/" + asset, "[aria-label=Life] h1"),
                Map.entry("/register/position/MFR-CBK-07", "[data-standing-here]"),
                Map.entry("/register/classes", "main h1, main h2"),
                Map.entry("/register/tables", "main h1, main h2"),
                Map.entry("/register/changes", "main h1"),
                Map.entry("/people", "main h1"),
                Map.entry("/account", "main h1"));
    }

    @Test
    void noMainScreenViolatesLevelAa() throws Exception {
        ApiClient oster = new ApiClient(installation.address());
        oster.signIn("oster", "penstock-42");
        String asset = oster.get("/api/register/positions/MFR-CBK-07")
                .at("/place/asset/id")
                .asString();
        String record =
                oster.get("/api/records?asset=" + asset).at("/records/0/number").asString();
        long job = oster.get("/api/jobs?limit=200")
                .path("jobs")
                .valueStream()
                .filter(j -> j.path("position").asString().equals("VAU-RAD-02"))
                .findFirst()
                .orElseThrow()
                .path("id")
                .asLong();
        String run = oster.post("/api/jobs/" + job + "/run", Map.of("gear", Map.of()), null)
                .path("id")
                .asString();
        List<String> all = new ArrayList<>();
        try (Technician it = new Technician(folder.resolve("axe"), installation.address(), Hands.MOUSE, 1280, 800)) {
            it.open("/");
            it.waitFor("the sign-in", t -> t.has("#password"));
            all.addAll(violations(it, "sign in"));
            it.signIn("oster", "penstock-42");
            for (boolean dark : new boolean[] {false, true}) {
                it.dark(dark);
                for (Map.Entry<String, String> screen :
                        screens(run, record, asset).entrySet()) {
                    it.open(screen.getKey());
                    it.waitFor(screen.getKey(), t -> t.has(screen.getValue()));
                    all.addAll(violations(it, (dark ? "dark " : "") + screen.getKey()));
                }
            }
            it.click("[data-open-search]");
            it.waitFor("the search", t -> t.has("[data-search]"));
            it.keys("orvex");
            it.waitFor("what is found", t -> t.has("[data-hit]"));
            all.addAll(violations(it, "search"));
        }
        assertTrue(Files.size(AXE) > 100_000, "axe was there");
        assertEquals("", String.join("\n", all));
    }
}
