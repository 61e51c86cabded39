package org.juratest.e2e;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
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
import org.openqa.selenium.By;
import org.openqa.selenium.Keys;
import org.openqa.selenium.WebElement;
import org.openqa.selenium.interactions.Actions;
import org.openqa.selenium.interactions.PointerInput;
import org.openqa.selenium.interactions.Sequence;
import tools.jackson.databind.JsonNode;

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
                Map.entry("/condition", "[data-drift-map] canvas"),
                Map.entry("/condition?as=table", "tr[data-device]"),
                Map.entry("/condition/trend/MFR-CBK-07", "[data-outlook]"),
                Map.entry("/people", "main h1"),
                Map.entry("/account", "main h1"));
    }

    /** What is cut or only hinted at is told to the keyboard, to a mouse and to a finger; Escape takes it away. */
    @Test
    void whatIsCutIsToldToKeysMouseAndFinger() {
        ApiClient oster = new ApiClient(installation.address());
        oster.signIn("oster", "penstock-42");
        JsonNode record = oster.get("/api/records?limit=1").path("records").path(0);
        try (Technician it = new Technician(installation.address(), Hands.MOUSE, 820, 1180)) {
            it.signIn("oster", "penstock-42");
            it.open("/records/" + record.path("number").asString());
            String hash = "p[data-hint][tabindex='0']";
            it.waitFor("the evidence", t -> t.has(hash));
            String whole = String.valueOf(
                    it.browser().findElement(By.cssSelector(hash)).getDomAttribute("data-hint"));
            assertTrue(whole.matches("[0-9a-f]{64}"), whole);

            it.tabTo(hash);
            it.waitFor("the whole hash for the keyboard", t -> t.text("[data-hints]")
                    .equals(whole));
            it.keys(Keys.ESCAPE);
            it.waitFor("that it is gone", t -> !t.has("[data-hints]"));

            tapped(it, hash);
            it.waitFor(
                    "the whole hash for a finger", t -> t.text("[data-hints]").equals(whole));
            tapped(it, "[data-headline]");
            it.waitFor("that it is gone", t -> !t.has("[data-hints]"));
        }
        try (Technician it = new Technician(installation.address(), Hands.MOUSE, 1280, 800)) {
            it.signIn("oster", "penstock-42");
            it.open("/register/position/MFR-CBK-07");
            it.waitFor("a name that is cut", t -> !cut(t).isEmpty());
            WebElement cut = cut(it).get(0);
            it.browser().executeScript("arguments[0].scrollIntoView({block: 'center'})", cut);
            new Actions(it.browser()).moveToElement(cut).perform();
            it.waitFor("the whole of it", t -> t.text("[data-hints]").equals(cut.getDomProperty("textContent")));
        }
    }

    private static void tapped(Technician it, String css) {
        WebElement on = it.browser().findElement(By.cssSelector(css));
        it.browser().executeScript("arguments[0].scrollIntoView({block: 'center'})", on);
        PointerInput finger = new PointerInput(PointerInput.Kind.TOUCH, "finger");
        it.browser()
                .perform(List.of(new Sequence(finger, 0)
                        .addAction(finger.createPointerMove(Duration.ZERO, PointerInput.Origin.fromElement(on), 0, 0))
                        .addAction(finger.createPointerDown(PointerInput.MouseButton.LEFT.asArg()))
                        .addAction(finger.createPointerUp(PointerInput.MouseButton.LEFT.asArg()))));
    }

    private static List<WebElement> cut(Technician it) {
        return it.browser().findElements(By.cssSelector("[role=tree] .truncate")).stream()
                .filter(e -> Boolean.TRUE.equals(
                        it.browser().executeScript("return arguments[0].scrollWidth > arguments[0].clientWidth", e)))
                .toList();
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
        try (Technician it = new Technician(installation.address(), Hands.MOUSE, 1280, 800)) {
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
