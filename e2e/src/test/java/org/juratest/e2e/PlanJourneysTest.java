package org.juratest.e2e;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.DayOfWeek;
import java.time.LocalDate;
import java.time.temporal.TemporalAdjusters;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.juratest.e2e.browser.Technician;
import org.juratest.e2e.browser.Technician.Hands;
import org.juratest.server.command.ApiClient;
import org.openqa.selenium.By;
import org.openqa.selenium.Keys;
import org.openqa.selenium.interactions.Actions;
import tools.jackson.databind.JsonNode;

/** The plan and the round, on two server processes over a valley that two had laid at once. */
class PlanJourneysTest {

    @TempDir
    private static Path folder;

    private static Installation installation;

    @BeforeAll
    static void start() throws Exception {
        installation = Installation.laid(folder, Path.of(".."));
        installation.startSimulators(100);
        installation.startBothServers();
    }

    @AfterAll
    static void stop() {
        installation.close();
    }

    private static Technician at(String address, int width, int height) {
        return new Technician(address, Hands.MOUSE, width, height);
    }

    private static ApiClient api(String address, String person, String password) {
        ApiClient client = new ApiClient(address);
        client.signIn(person, password);
        return client;
    }

    private static long count(String sql) throws SQLException {
        try (Connection connection = DriverManager.getConnection(
                        installation.database(),
                        System.getenv("JURATEST_DB_USER"),
                        System.getenv("JURATEST_DB_PASSWORD"));
                ResultSet rs = connection.createStatement().executeQuery(sql)) {
            rs.next();
            return rs.getLong(1);
        }
    }

    private static void nothingTwice() throws SQLException {
        assertEquals(
                0,
                count("SELECT count(*) FROM (SELECT 1 FROM job WHERE status <> 'withdrawn' AND plan IS NOT "
                        + "NULL GROUP BY plan, asset, due HAVING count(*) > 1) d"));
        assertEquals(0, count("SELECT count(*) FROM (SELECT 1 FROM plan GROUP BY title HAVING count(*) > 1) d"));
    }

    @Test
    void aPlanIsChangedARoundIsBuiltAndAJobIsDone() throws Exception {
        nothingTwice();
        assertTrue(count("SELECT count(*) FROM job WHERE status = 'open'") > 100);
        ApiClient tavel = api(installation.address(), "tavel", "rack-rail-16");
        LocalDate today = LocalDate.parse(tavel.get("/api/round").path("today").asString());
        try (Technician oster = at(installation.otherAddress(), 1280, 800);
                Technician it = at(installation.address(), 1280, 800)) {
            oster.signIn("oster", "penstock-42");
            change(oster);
            nothingTwice();
            move(oster, tavel, today);
            // What the one process shows follows what is done at the other.
            oster.open("/days/" + today);
            oster.waitFor("the days", t -> t.has("[data-day-of=tavel]"));
            it.signIn("tavel", "rack-rail-16");
            String added = build(it);
            oster.waitFor(
                    "the added job in the other process", t -> t.text("main").contains(added));
            loadout(it);
            done(it, oster, tavel, today);
        }
        assertEquals(0, installation.run("verify"), installation.output());
    }

    /** A stop goes to another person by mouse and by keys, and comes back in one act; a day is put in another order. */
    @Test
    void aStopIsDraggedToAnotherPersonAndBackAndADayIsOrderedByKeys() {
        ApiClient oster = api(installation.address(), "oster", "penstock-42");
        String today = oster.get("/api/round").path("today").asString();
        JsonNode before = oster.get("/api/rounds/marvet/" + today);
        JsonNode stop = before.path("stops")
                .valueStream()
                .filter(s -> s.path("jobs").size() > 1)
                .findFirst()
                .orElseThrow();
        List<String> taken = positions(stop.path("jobs"));
        try (Technician it = at(installation.address(), 1280, 800)) {
            it.signIn("oster", "penstock-42");
            it.open("/days/" + today);
            String handle =
                    "[data-column=marvet] [data-drag='" + stop.path("name").asString() + "']";
            it.waitFor("the days", t -> t.has(handle));
            new Actions(it.browser())
                    .moveToElement(it.browser().findElement(By.cssSelector(handle)))
                    .clickAndHold()
                    .moveByOffset(12, 4)
                    .moveToElement(it.browser().findElement(By.cssSelector("[data-column=brevan]")))
                    .release()
                    .perform();
            it.waitFor("the stop at the other person", t -> !t.has(handle) && onDay(oster, "brevan", today, taken));
            it.clickWords("//*[@data-act]", "Undo");
            it.waitFor("the stop where it was", t -> t.has(handle) && onDay(oster, "marvet", today, taken));

            // The same by keys; a column to the left, and Escape leaves it where it was.
            toTheLeft(it, handle);
            it.keys(Keys.ESCAPE);
            it.waitFor("that it stays", t -> heard(t).contains("stays where it was"));
            toTheLeft(it, handle);
            it.keys(" ");
            it.waitFor("the stop at the first", t -> onDay(oster, "tavel", today, taken));
            it.clickWords("//*[@data-act]", "Undo");
            it.waitFor("the stop where it was", t -> t.has(handle) && onDay(oster, "marvet", today, taken));

            ordered(it, oster, today);
        }
    }

    private static void toTheLeft(Technician it, String handle) {
        it.tabTo(handle);
        it.keys(" ");
        it.waitFor("where it is", t -> heard(t).contains("is at C. Marvet"));
        it.keys(Keys.ARROW_LEFT);
        it.waitFor("where it would go", t -> heard(t).contains("is at A. Tavel"));
    }

    private static void ordered(Technician it, ApiClient oster, String today) {
        it.open("/round/marvet/" + today);
        it.waitFor("the round", t -> t.has("[data-job] [data-drag]"));
        List<String> was = positions(oster.get("/api/rounds/marvet/" + today));
        String first = "[data-job='" + was.get(0) + "'] [data-drag]";
        it.tabTo(first);
        it.keys(" ");
        it.waitFor("where it is", t -> heard(t).contains("is at " + was.get(0)));
        it.keys(Keys.ARROW_DOWN);
        it.waitFor("where it would go", t -> heard(t).contains("is at " + was.get(1)));
        it.keys(" ");
        it.waitFor(
                "another order",
                t -> positions(oster.get("/api/rounds/marvet/" + today)).indexOf(was.get(0)) == 1);
    }

    private static List<String> positions(JsonNode jobs) {
        return jobs.isArray()
                ? jobs.valueStream().map(j -> j.path("position").asString()).toList()
                : jobs.path("stops")
                        .valueStream()
                        .flatMap(s -> positions(s.path("jobs")).stream())
                        .toList();
    }

    private static boolean onDay(ApiClient api, String person, String day, List<String> positions) {
        return positions(api.get("/api/rounds/" + person + "/" + day)).containsAll(positions);
    }

    private static String heard(Technician it) {
        return it.browser().findElements(By.cssSelector("[aria-live]")).stream()
                .map(e -> String.valueOf(e.getDomProperty("textContent")))
                .collect(Collectors.joining(" "));
    }

    /** Two weeks are shared out and taken up in part; what was fixed by hand stays where it is. */
    @Test
    void aProposalIsTakenUpInPartAndWhatIsFixedStays() throws Exception {
        ApiClient oster = api(installation.address(), "oster", "penstock-42");
        LocalDate today = LocalDate.parse(oster.get("/api/round").path("today").asString());
        LocalDate wednesday =
                today.with(TemporalAdjusters.next(DayOfWeek.MONDAY)).plusDays(2);
        JsonNode fixed = oster.get("/api/plan/jobs?when=all&limit=200")
                .path("jobs")
                .valueStream()
                .filter(j -> !j.hasNonNull("plannedFor")
                        && j.path("lacks").isEmpty()
                        && !j.hasNonNull("cannot")
                        && !j.hasNonNull("deferredTo")
                        && !LocalDate.parse(j.path("opens").asString()).isAfter(wednesday)
                        && !LocalDate.parse(j.path("closes").asString()).isBefore(wednesday))
                .findFirst()
                .orElseThrow();
        oster.put(
                "/api/jobs/" + fixed.path("id").asLong() + "/day",
                Map.of("day", wednesday.toString(), "person", "brevan"));
        try (Technician it = at(installation.otherAddress(), 1280, 800)) {
            it.signIn("oster", "penstock-42");
            it.open("/plan/share");
            it.waitFor("the question for how many weeks", t -> t.has("[data-ask-proposal]"));
            it.click("[data-ask-proposal]");
            it.waitFor("how far it is", t -> t.has("[data-progress]") || t.has("[data-proposal]"));
            it.waitFor("the proposal", t -> t.has("[data-proposal]"));
            JsonNode proposal = oster.get("/api/plan/proposals/current").path("proposal");
            List<JsonNode> open = proposal.path("lines")
                    .valueStream()
                    .filter(l -> l.path("state").asString().equals("open"))
                    .toList();
            assertTrue(open.size() > 5, "to take up: " + open.size());
            assertTrue(
                    it.text("[data-proposed='" + fixed.path("position").asString() + "'][data-at=fixed]")
                            .contains("fixed there"),
                    "what was fixed is seen beside the rest");
            String position = open.get(0).path("position").asString();
            long job = open.get(0).path("job").asLong();
            it.click("[data-proposed='" + position + "'] input[type=checkbox]");
            assertEquals("Take up 1 job", it.text("[data-take-up]"));
            it.click("[data-take-up]");
            it.waitFor("it to be taken up", t -> t.has("[data-proposed='" + position + "'][data-at=taken]"));
            assertEquals(
                    open.get(0).path("day").asString(),
                    oster.get("/api/jobs/" + job).path("plannedFor").asString());
            it.clickWords("//*[@data-act]", "Undo");
            it.waitFor("it to be open again", t -> t.has("[data-proposed='" + position + "'][data-at=open]"));
            assertTrue(oster.get("/api/jobs/" + job).path("plannedFor").isMissingNode());

            // A week at once; the rest waits.
            long week = it.browser()
                    .findElements(By.cssSelector("[data-proposed-week]:first-of-type [data-at=open]"))
                    .size();
            it.click("[data-proposed-week] [data-take-week]");
            it.waitFor("the week to be taken up", t -> t.text("[data-proposed-week]")
                    .contains("nothing left"));
            assertEquals(
                    week,
                    oster.get("/api/jobs/moves?by=oster").get(0).path("jobs").asLong());
            it.clickWords("//main", week == open.size() ? "Done with it" : "Throw it away");
            it.waitFor("the page to be empty again", t -> t.has("[data-ask-proposal]"));
        }
        JsonNode after = oster.get("/api/jobs/" + fixed.path("id").asLong());
        assertEquals(wednesday.toString(), after.path("plannedFor").asString());
        assertEquals("brevan", after.path("person").asString());
        nothingTwice();
    }

    /** An interval is changed; what that does is read before it is stored. */
    private static void change(Technician oster) {
        oster.open("/plan/plans");
        oster.fill("[aria-label='Filter plans']", "transfer");
        oster.clickWords("//tr[@data-plan='Transfer switches']", "Transfer switches");
        oster.fill("[data-field=amount]", "0");
        oster.waitFor("that no interval is refused", t -> t.text("[data-wrong]").contains("above 0"));
        oster.fill("[data-field=amount]", "3");
        oster.waitFor("what it does", t -> t.text("[data-preview]")
                .matches("(?s)Of 5 devices: [1-9]\\d* new jobs?.*new job, due.*"));
        oster.click("[data-send]");
        oster.waitFor("the changed plan", t -> t.text("tr[data-plan='Transfer switches']")
                .contains("quarterly"));
    }

    /** A job is moved by the keyboard, within its window; beyond it a clear word says why not. */
    private static void move(Technician oster, ApiClient api, LocalDate today) {
        JsonNode job = api.get("/api/plan/jobs?when=all&limit=200")
                .path("jobs")
                .valueStream()
                .filter(j -> j.path("state").asString().equals("notYet")
                        && !j.hasNonNull("plannedFor")
                        && LocalDate.parse(j.path("opens").asString()).isAfter(today))
                .findFirst()
                .orElseThrow();
        String position = job.path("position").asString();
        oster.open("/plan?when=" + job.path("due").asString());
        String peg = "[role=slider][aria-label='Day of " + position + "']";
        oster.waitFor("its line", t -> t.has(peg));
        oster.browser().executeScript("document.querySelector(arguments[0]).focus()", peg);
        oster.keys(Keys.ARROW_LEFT);
        oster.keys(Keys.ENTER);
        String before = LocalDate.parse(job.path("due").asString()).minusDays(1).toString();
        oster.waitFor(
                "the moved job", t -> api.get("/api/jobs/" + job.path("id").asLong())
                        .path("plannedFor")
                        .asString("")
                        .equals(before));
        oster.waitFor("its line again", t -> String.valueOf(
                        t.browser().findElement(By.cssSelector(peg)).getDomAttribute("aria-valuetext"))
                .contains("planned"));
        oster.browser().executeScript("document.querySelector(arguments[0]).focus()", peg);
        for (int i = 0; i < 12; i++) {
            oster.keys(Keys.ARROW_DOWN);
        }
        oster.waitFor("that it would be late", t -> t.text("[data-plan-job='" + position + "'] [role=status]")
                .contains("it would be late"));
        oster.keys(Keys.ENTER);
        oster.waitFor("that it stays", t -> t.text("[data-plan-job='" + position + "'] [role=status]")
                .contains("It stays where it was"));
        assertEquals(
                before,
                api.get("/api/jobs/" + job.path("id").asLong())
                        .path("plannedFor")
                        .asString());
    }

    /** Adds a job to the day; gives its position. */
    private static String build(Technician it) {
        it.clickWords("//main", "Add jobs");
        it.waitFor(
                "what may be done",
                t -> t.has("[data-send]") && t.text("[role=dialog]").contains("Nothing is chosen"));
        if (!it.has("[data-free]")) {
            it.clickWords("//div[@role='dialog']", "also what is due later");
        }
        it.waitFor("a job to choose", t -> t.has("[data-free]"));
        String position = String.valueOf(
                it.browser().findElement(By.cssSelector("[data-free]")).getDomAttribute("data-free"));
        it.click("[data-free] input");
        it.click("[data-send]");
        it.waitFor("the stop of " + position, t -> t.has("[data-job='" + position + "']"));
        return position;
    }

    /** What is out of calibration is said with what to take instead; what is taken is ticked off, and stays so. */
    private static void loadout(Technician it) {
        it.waitFor("the expired gear", t -> t.text("[aria-label=Loadout]")
                .matches("(?s).*Micro-ohmmeter 2\\s+calibration ended .*: take Micro-ohmmeter 1.*"));
        it.clickWords("//aside[@aria-label='Loadout']", "Micro-ohmmeter 1");
        it.waitFor("the tick", t -> t.text("[aria-label=Loadout]").contains("Ticked off but for"));
        it.browser().navigate().refresh();
        it.waitFor(
                "the tick after a reload", t -> t.text("[aria-label=Loadout]").contains("Ticked off but for"));
    }

    /** A job is started, finished, and the next is due a plan's interval later; another is put back with its reason. */
    private static void done(Technician it, Technician oster, ApiClient tavel, LocalDate today) {
        JsonNode job = Breakers.job(tavel);
        String position = job.path("position").asString();
        it.start(position);
        it.work(job.path("serial").asString(), "the filed record", t -> t.primary()
                .equals("Read and sign the record"));
        it.waitFor(
                "where the round goes on", t -> t.text("[data-next-on-round]").contains("Next on the round"));
        it.open("/round");
        it.waitFor("the done job", t -> t.has("[data-job='" + position + "'][data-done=true]"));
        oster.waitFor("the same in the other process", t -> t.text("main").contains(position + " done"));
        it.open("/asset/" + job.path("asset").asString());
        String next = java.time.format.DateTimeFormatter.ofPattern("d MMM yyyy", java.util.Locale.UK)
                .format(today.plusDays(364));
        it.waitFor("the next due date", t -> t.text("[data-next-due]").equals(next + ", every 52 weeks"));
        JsonNode other = tavel.roundJobs().stream()
                .filter(j -> j.path("status").asString().equals("open"))
                .findFirst()
                .orElseThrow();
        it.open("/round");
        it.waitFor(
                "the other job",
                t -> t.has("[aria-label='More about " + other.path("position").asString() + "']"));
        it.click("[aria-label='More about " + other.path("position").asString() + "']");
        it.clickWords("//body", "Put back, not done");
        it.fill("[data-why]", "ran out of time");
        it.click("[data-send]");
        it.waitFor(
                "that it is gone",
                t -> !t.has("[data-job='" + other.path("position").asString() + "']"));
        assertEquals(
                "ran out of time",
                tavel.get("/api/jobs/" + other.path("id").asLong() + "/decisions")
                        .get(0)
                        .path("why")
                        .asString());
    }

    /**
     * From a late test to its reason and its record, and from an outage that lacks to the job that is ready with it.
     */
    @Test
    void whatWasLateLeadsToItsRecordAndAnOutageMakesAJobReady() {
        ApiClient tavel = api(installation.address(), "tavel", "rack-rail-16");
        LocalDate today = LocalDate.parse(tavel.get("/api/round").path("today").asString());
        JsonNode late = tavel.get("/api/compliance/jobs?outcome=late&from=" + today.minusYears(2) + "&to=" + today)
                .valueStream()
                .filter(j -> j.hasNonNull("record"))
                .findFirst()
                .orElseThrow();
        JsonNode needs = tavel.get("/api/plan/jobs?when=all&limit=200")
                .path("jobs")
                .valueStream()
                .filter(j -> j.path("lacks").toString().contains("outage not asked for yet"))
                .findFirst()
                .orElseThrow();
        try (Technician it = at(installation.address(), 1280, 800)) {
            it.signIn("oster", "penstock-42");
            it.open("/plan/compliance?from=" + today.minusYears(2) + "&by=year");
            String row = "tr[data-compliance='" + late.path("procedure").asString() + "'] td:last-child button";
            it.waitFor("the report", t -> t.has(row));
            it.click(row);
            it.waitFor("the reasons", t -> t.text("section[aria-label='Jobs of the field']")
                    .contains("Why not in time: "));
            assertTrue(it.text("section[aria-label='Jobs of the field']")
                    .contains(late.path("why").asString()));
            String record = "a[href='/records/" + late.path("record").asString() + "']";
            it.waitFor("the jobs of the field", t -> t.has(record));
            it.click(record);
            it.waitFor(
                    "its record",
                    t -> t.has("[data-record='" + late.path("record").asString() + "']"));
            it.clickWords("//aside", "Raise a follow-up");
            it.click("[data-send]");
            it.waitFor("that a reason is needed", t -> t.text("[data-wrong]").contains("a reason"));
            it.fill("[data-why]", "was late");
            it.click("[data-send]");
            it.waitFor("the raised job", t -> t.text("[data-raised]").contains("follow-up, due"));
        }
        // Which job it is depends on the day of the tests: one that is late is done today at the earliest.
        LocalDate due = LocalDate.parse(needs.path("due").asString());
        LocalDate wanted = due.isBefore(today) ? today : due;
        // The demo has asked for outages at some sites already.
        String lines =
                "[data-outage='" + needs.path("site").asString() + "'][data-from='" + wanted + "'] [data-select]";
        // Nobody grants what they asked for themselves: a technician asks.
        try (Technician it = at(installation.address(), 1280, 800)) {
            it.signIn("tavel", "rack-rail-16");
            it.open("/plan/needs");
            it.waitFor("the outages", t -> t.has("section[aria-label='Outages and permits'] [data-select]"));
            it.choose(
                    "section[aria-label='Outages and permits'] > div:last-child [data-select]",
                    siteName(tavel, needs.path("site").asString()));
            day(it, "section[aria-label='Outages and permits'] input[data-day]", 0, wanted);
            day(it, "section[aria-label='Outages and permits'] input[data-day]", 1, wanted);
            // Half filled in, it survives a reload.
            it.browser().navigate().refresh();
            it.waitFor("the kept outage", t -> t.has("section[aria-label='Outages and permits'] [data-select]"));
            it.clickWords("//section[@aria-label='Outages and permits']", "Ask for it");
            it.waitFor("the asked outage", t -> tavel.get(
                            "/api/plan/jobs/" + needs.path("id").asLong())
                    .path("lacks")
                    .toString()
                    .contains("not granted yet"));
            assertTrue(
                    it.browser().findElements(By.cssSelector(lines)).stream()
                            .noneMatch(org.openqa.selenium.WebElement::isDisplayed),
                    "who asks does not answer");
        }
        try (Technician it = at(installation.address(), 1280, 800)) {
            it.signIn("oster", "penstock-42");
            it.open("/plan/needs");
            it.waitFor("its line", t -> t.browser().findElements(By.cssSelector(lines)).stream()
                    .anyMatch(e -> "asked".equals(e.getDomAttribute("data-select"))));
            it.choose(
                    lines,
                    () -> it.browser().findElements(By.cssSelector(lines)).stream()
                            .filter(e -> "asked".equals(e.getDomAttribute("data-select")))
                            .reduce((a, b) -> b)
                            .orElseThrow(),
                    "granted");
            it.waitFor("that the outage lacks no more", t -> !tavel.get(
                            "/api/plan/jobs/" + needs.path("id").asLong())
                    .path("lacks")
                    .toString()
                    .contains("outage"));
        }
    }

    private static String siteName(ApiClient api, String code) {
        return api.get("/api/plan/resources")
                .path("sites")
                .valueStream()
                .filter(s -> s.path("code").asString().equals(code))
                .findFirst()
                .orElseThrow()
                .path("name")
                .asString();
    }

    /** Sets a field for a day, in whatever order the browser writes its parts. */
    private static void day(Technician it, String css, int nth, LocalDate day) {
        it.browser()
                .executeScript(
                        "const f = document.querySelectorAll(arguments[0])[arguments[1]]; "
                                + "Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, "
                                + "'value').set.call(f, arguments[2]);"
                                + "f.dispatchEvent(new Event('input', { bubbles: true }))",
                        css,
                        nth,
                        day.toString());
    }
}
