package org.juratest.e2e;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.List;
import org.juratest.e2e.browser.Technician;
import org.juratest.server.command.ApiClient;
import org.openqa.selenium.By;
import org.openqa.selenium.Keys;
import org.openqa.selenium.Rectangle;
import org.openqa.selenium.WebElement;
import org.openqa.selenium.interactions.Actions;
import tools.jackson.databind.JsonNode;

/** What somebody does with the drift map and the trends, on an installation with the demo's fleet. */
final class ConditionAtTheDesk {

    private static final String STAR = "MFR-CBK-07";
    /** Room of the map's axes; see the page. */
    private static final int LEFT = 58;

    private static final int RIGHT = 18;

    private final Technician it;

    ConditionAtTheDesk(Technician it) {
        this.it = it;
    }

    /** Opens the map once the conditions of the whole fleet are made. */
    private void map(ApiClient api, String query) {
        it.open("/condition" + query);
        it.waitFor(
                "the conditions",
                t -> api.get("/api/condition").at("/marks/drift").size() > 100);
        it.open("/condition" + query);
        it.waitFor("the map", t -> t.has("[data-drift-map] canvas") && t.has("[data-need]"));
    }

    /** A mark on the map, its trend, its record, a follow-up from there, and it stands on the round. */
    void fromAMarkToAJobOnTheRound(ApiClient api) {
        map(api, "?family=breakers");
        WebElement name = it.browser().findElements(By.cssSelector("[data-drift-map] .on-map")).stream()
                .filter(e -> e.getText().equals(STAR))
                .findFirst()
                .orElseThrow();
        // The mark stands beside its name, on the side where there was room.
        Rectangle box = name.getRect();
        boolean right = String.valueOf(name.getDomAttribute("style")).contains("left");
        new Actions(it.browser())
                .moveToElement(name, right ? -box.width / 2 - 10 : box.width / 2 + 10, 0)
                .perform();
        it.waitFor("what the mark says", t -> t.text("[data-told]").startsWith(STAR + ", Orvex M160"));
        new Actions(it.browser()).click().perform();
        it.waitFor("its trend", t -> t.has("[data-outlook]") && t.text("h1").contains(STAR));
        assertTrue(it.text("[data-outlook]").contains("t its limit"), it.text("[data-outlook]"));
        assertTrue(it.text("[data-method]").contains("Mann-Kendall p = "), it.text("[data-method]"));
        String record = String.valueOf(
                it.browser().findElement(By.cssSelector("[data-value]")).getDomAttribute("data-value"));
        it.click("[data-value] a");
        it.waitFor("its record", t -> t.browser().getCurrentUrl().endsWith("/records/" + record));
        it.waitFor("what follows", t -> t.has("[aria-label='What follows']"));
        it.clickWords("//aside[@aria-label='What follows']", "Raise a follow-up");
        it.fill("[data-why]", "contact resistance will meet its limit");
        it.click("[data-send]");
        it.waitFor("that it is raised", t -> t.has("[data-raised]"));
        it.clickWords("//div[@role='dialog']", "Good");
        long job = api.get("/api/jobs?limit=200")
                .path("jobs")
                .valueStream()
                .filter(j -> j.path("position").asString().equals(STAR)
                        && j.path("reason").asString().equals("follow-up"))
                .mapToLong(j -> j.path("id").asLong())
                .findFirst()
                .orElseThrow();
        it.open("/round");
        it.waitFor("the round", t -> t.has("section[aria-label=Stops]"));
        it.clickWords("//main", "Add jobs");
        it.waitFor("what may be done", t -> t.has("[data-free]"));
        it.clickWords("//div[@role='dialog']", "also what is due later");
        String line = "//label[@data-free='" + STAR + "'][contains(., 'follow-up')]//input";
        it.waitFor(
                "the follow-up", t -> !t.browser().findElements(By.xpath(line)).isEmpty());
        it.browser().findElement(By.xpath(line)).click();
        it.click("[data-send]");
        it.waitFor("it on the round", t -> onTheRound(api, job) && t.has("[data-job='" + STAR + "']"));
        // And the round tells why its device needs attention.
        assertTrue(it.has("[data-job='" + STAR + "'] [data-need]"), it.text("[data-job='" + STAR + "']"));
    }

    private static boolean onTheRound(ApiClient api, long job) {
        return api.roundJobs().stream().anyMatch(j -> j.path("id").asLong() == job);
    }

    /** A repair is entered, the record after it becomes the baseline, and the trend begins anew with it. */
    void anotherBaselineAfterARepair(ApiClient api) {
        it.open("/condition/trend/" + STAR);
        it.waitFor("the trend", t -> t.has("[data-choose-baseline]"));
        int before =
                it.browser().findElements(By.cssSelector("[data-baseline]")).size();
        String newest = String.valueOf(
                it.browser().findElement(By.cssSelector("[data-value]")).getDomAttribute("data-value"));
        it.click("[data-choose-baseline]");
        it.waitFor("the question", t -> t.has("[role=dialog] [data-why]"));
        it.click("[data-send]");
        it.waitFor("that it needs a reason", t -> t.text("[data-wrong]").contains("needs a reason"));
        it.fill("[role=dialog] [data-why]", "contacts replaced");
        it.click("[data-send]");
        it.waitFor("the new baseline", t -> t.text("[data-baseline='" + newest + "']")
                .contains("In force: contacts replaced"));
        assertEquals(
                before + 1,
                it.browser().findElements(By.cssSelector("[data-baseline]")).size(),
                "the old one is still told");
        assertTrue(it.text("[aria-label=Baseline]").contains("Not any more: the acceptance"));
        it.waitFor("that the trend begins anew", t -> t.text("[data-outlook]").contains("1 reading, too few"));
        JsonNode device = api.get("/api/assets/" + STAR);
        assertEquals(
                List.of(newest),
                device.path("records")
                        .valueStream()
                        .filter(r -> r.path("baseline").asBoolean())
                        .map(r -> r.path("number").asString())
                        .toList());
    }

    /** A region is drawn around what drifts: three of one batch, told with the odds; Escape lets go of it. */
    void aRegionWithItsSharedCause(ApiClient api) {
        map(api, "?family=radios");
        WebElement field = it.browser().findElement(By.cssSelector("[data-drift-map]"));
        Rectangle box = field.getRect();
        int width = box.width - LEFT - RIGHT;
        // The right half of the upper half: margin used 62 to 125 %, the fastest drifts.
        int x = LEFT + width / 2 - box.width / 2;
        new Actions(it.browser())
                .moveToElement(field, x, -box.height / 2 + 20)
                .clickAndHold()
                .moveByOffset(width / 4, box.height / 5)
                .moveByOffset(width / 4 - 4, box.height / 5)
                .release()
                .perform();
        it.waitFor("the chosen", t -> t.text("[data-list-head]").equals("Three in the chosen region"));
        it.waitFor("what they share", t -> t.has("[data-trait=batch]"));
        assertTrue(
                it.text("[data-trait=batch]").startsWith("All 3 have batch C2207, as 3 of "),
                it.text("[data-trait=batch]"));
        String address = it.browser().getCurrentUrl();
        assertTrue(address.contains("region="), address);
        it.browser().navigate().refresh();
        it.waitFor("the same after a reload", t -> t.has("[data-region]") && t.has("[data-trait=batch]"));
        it.click("[data-as=table]");
        it.waitFor(
                "them as a table",
                t -> t.browser().findElements(By.cssSelector("tr[data-device]")).size() == 3);
        it.click("[data-as=map]");
        it.waitFor("the map", t -> t.has("[data-drift-map] canvas"));
        it.tabTo("[data-drift-map]");
        it.keys(Keys.ESCAPE);
        it.waitFor("the whole again", t -> !t.has("[data-region]"));
        // By keys: to a mark, and into its trend.
        it.keys(Keys.ARROW_RIGHT);
        it.waitFor("a mark", t -> t.has("[data-told]"));
        it.keys(Keys.ENTER);
        it.waitFor("its trend", t -> t.browser().getCurrentUrl().contains("/condition/trend/RAD-"));
    }
}
