package org.juratest.web;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.Arrays;
import java.util.List;
import java.util.Random;
import java.util.stream.Collectors;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import tools.jackson.databind.JsonNode;

/**
 * What a page decides without drawing anything: the link, the token, the next thing to do, numbers as people type them.
 */
class StateTest {

    private static Page page;

    @BeforeAll
    static void open() throws Exception {
        page = new Page();
    }

    @AfterAll
    static void close() {
        page.close();
    }

    private static JsonNode last(JsonNode driven) {
        return driven.path("seen").get(driven.path("seen").size() - 1);
    }

    private static List<String> asked(JsonNode driven) {
        return driven.path("asked").valueStream().map(JsonNode::asString).toList();
    }

    // ---- the link

    @Test
    void silenceIsToldAfterASecondAndAHalfAndTheReturnOfTheLinkWithIt() {
        JsonNode driven = page.call(
                "drive",
                "[{'set':{'mode':'live','n':3}},{'pass':1000},{'set':{'silent':true}},{'pass':1200},"
                        + "{'pass':600},{'set':{'silent':false,'mode':'safe','n':5}},{'pass':700}]");
        assertEquals(
                List.of("up", "up", "up", "up", "lost", "lost", "back"),
                driven.path("seen")
                        .valueStream()
                        .map(s -> s.path("link").asString())
                        .toList());
        assertEquals(
                "safe",
                last(driven).path("mode").asString(),
                "what the run became meanwhile is asked before the link counts as back");
    }

    @Test
    void aQuestionThatHangsFromBeforeDoesNotKeepTheNewsWaiting() {
        JsonNode driven = page.call(
                "drive",
                "[{'set':{'mode':'live','n':3}},{'pass':1000},{'set':{'silent':true}},{'call':'look'},"
                        + "{'pass':2500},{'set':{'silent':false,'mode':'safe','n':5}},{'pass':1100}]");
        assertEquals("back", last(driven).path("link").asString());
        assertEquals("safe", last(driven).path("mode").asString());
    }

    @Test
    void aPageThatWasItselfHeldUpDoesNotBlameTheLink() {
        JsonNode driven = page.call("drive", "[{'pass':900},{'stall':4000},{'pass':2000}]");
        assertTrue(
                driven.path("seen")
                        .valueStream()
                        .allMatch(s -> s.path("link").asString().equals("up")),
                driven.toString());
    }

    @Test
    void theScreenBeatsTwiceASecondAndNotAfterItWasClosed() {
        int beats = page.call("drive", "[{'pass':10000}]").path("beats").asInt();
        assertTrue(beats >= 20 && beats <= 22, beats + " beats in 10 s");
    }

    // ---- switching on and off

    @Test
    void theTokenIsUsedOnceWhateverTheAnswer() {
        JsonNode driven = page.call(
                "drive",
                "[{'pass':600},{'call':'arm'},{'set':{'refuse':{'/energise':409}}},{'call':'energise'},"
                        + "{'call':'energise'},{'pass':3000}]");
        assertEquals("No.", driven.path("seen").get(3).path("refusal").asString());
        // A second press is a second request by the person, never by the page; the server has spent the token by then.
        assertEquals(2, asked(driven).stream().filter("POST /energise"::equals).count());
        JsonNode quiet = page.call(
                "drive", "[{'pass':600},{'call':'arm'},{'set':{'silent':true}},{'call':'energise'},{'pass':20000}]");
        assertEquals(
                1, asked(quiet).stream().filter("POST /energise"::equals).count(), "silence is no reason to try again");
    }

    @Test
    void nothingIsSwitchedOnWithoutAnArming() {
        JsonNode driven = page.call(
                "drive",
                "[{'pass':600},{'call':'energise'},{'call':'arm'},{'set':{'mode':'safe','n':9}},{'call':'look'},"
                        + "{'call':'energise'}]");
        assertFalse(
                asked(driven).contains("POST /energise"),
                "the token of a step that fell back to safe is forgotten: " + driven);
        assertFalse(last(driven).path("arming").asBoolean());
    }

    @Test
    void aHiddenPageStopsWhatItDrivesAndOnlyThat() {
        assertTrue(asked(page.call("drive", "[{'set':{'mode':'live','n':2}},{'pass':600},{'call':'hide'}]"))
                .contains("POST /stop keepalive"));
        assertFalse(
                asked(page.call("drive", "[{'pass':600},{'call':'hide'}]")).contains("POST /stop keepalive"),
                "nothing is on");
        assertFalse(
                asked(page.call("drive", "[{'set':{'mode':'live','n':2,'drives':false}},{'pass':600},{'call':'hide'}]"))
                        .contains("POST /stop keepalive"),
                "a watcher leaves");
    }

    @Test
    void aStopWaitsForNothing() {
        JsonNode driven = page.call("drive", "[{'pass':600},{'set':{'silent':true}},{'call':'note'},{'call':'stop'}]");
        assertTrue(asked(driven).contains("POST /stop"), driven.toString());
        assertEquals(
                1,
                asked(page.call("drive", "[{'pass':600},{'set':{'silent':true}},{'call':'note'},{'call':'note'}]"))
                        .stream()
                        .filter("POST /events"::equals)
                        .count(),
                "anything else is done one after the other");
    }

    @Test
    void aRunIsTakenIfNobodyDrivesItAndAfterAReloadAnywayButNeverWhileItIsLive() {
        String free = "{'drives':false,'heard':false}";
        String held = "{'drives':false,'heard':true}";
        assertTrue(asked(page.call("drive", "[{'pass':600}]", "'ifFree'", free)).contains("POST /screen"));
        assertFalse(
                asked(page.call("drive", "[{'pass':3000}]", "'ifFree'", held)).contains("POST /screen"),
                "another screen is heard");
        assertFalse(
                asked(page.call("drive", "[{'pass':3000}]", "'never'", free)).contains("POST /screen"),
                "who only looks takes nothing");
        assertTrue(
                asked(page.call("drive", "[{'pass':600}]", "'anyway'", held)).contains("POST /screen"),
                "the screen that is heard was this page's own");
        String live = "{'drives':false,'heard':true,'mode':'live','n':4}";
        assertFalse(
                asked(page.call("drive", "[{'pass':3000}]", "'anyway'", live)).contains("POST /screen"));
        assertTrue(
                asked(page.call(
                                "drive",
                                "[{'pass':1000},{'set':{'mode':'safe','n':6}},{'pass':1500}]",
                                "'anyway'",
                                live))
                        .contains("POST /screen"),
                "once its output is off");
    }

    @Test
    void aRefusalIsKeptForTheScreenAndTheRunIsLookedAtAgain() {
        JsonNode driven = page.call(
                "drive", "[{'pass':600},{'set':{'refuse':{'/events':409},'n':2}},{'call':'note'},{'pass':100}]");
        assertEquals("No.", last(driven).path("refusal").asString());
        assertEquals(2, last(driven).path("n").asInt());
        JsonNode mended = page.call(
                "drive",
                "[{'pass':600},{'set':{'refuse':{'/events':409}}},{'call':'note'},{'set':{'refuse':{}}},"
                        + "{'call':'note'}]");
        assertTrue(last(mended).path("refusal").isNull(), "the next action takes it off");
    }

    @Test
    void aBeatThatKnowsMoreBringsTheRunUpToDate() {
        JsonNode driven = page.call("drive", "[{'pass':600},{'set':{'n':12}},{'pass':600}]");
        assertEquals(12, last(driven).path("n").asInt(), "also when the stream of events is silent");
        JsonNode ended = page.call("drive", "[{'set':{'busy':true}},{'pass':600},{'set':{'busy':false}},{'pass':600}]");
        assertTrue(ended.path("seen").get(1).path("busy").asBoolean(), ended.toString());
        assertFalse(last(ended).path("busy").asBoolean(), "also where its end was not heard");
    }

    @Test
    void hidingThePageStopsInTheGapOfASequenceAsWhileLive() {
        JsonNode driven = page.call("drive", "[{'set':{'busy':true}},{'pass':600},{'call':'hide'}]");
        assertTrue(
                driven.path("asked").valueStream().anyMatch(a -> a.asString().equals("POST /stop keepalive")),
                driven.toString());
        JsonNode idle = page.call("drive", "[{'pass':600},{'call':'hide'}]");
        assertTrue(idle.path("asked").valueStream().noneMatch(a -> a.asString().contains("/stop")), idle.toString());
    }

    // ---- how a radio is connected

    private static final String SET = "{'id':'tester','role':'radio-test-set'},{'id':'path','role':'rf-path'},"
            + "{'id':'data','role':'radio-data-port'}";
    private static final String GEAR =
            "{'need':'tester','name':'Set'},{'need':'path','name':'Lead','path':{'greatest':10,"
                    + "'loss':{'points':[]}}},{'need':'data','name':'Port'}";

    private static String leads(JsonNode leads) {
        return leads.valueStream()
                .map(l -> l.path("id").asString() + " " + l.path("standing").asString())
                .reduce((a, b) -> a + ", " + b)
                .orElse("");
    }

    @Test
    void aRadioIsConnectedAsItsKindAndTheGearAskFor() {
        JsonNode portable = page.call("leads", "[" + SET + "]", "[" + GEAR + "]", "'portable'", "5", "0");
        assertEquals("rf next, sound later, data later", leads(portable), "a portable has its battery");
        assertEquals("Lead", portable.get(0).path("via").asString());
        JsonNode mobile = page.call(
                "leads",
                "[" + SET + ",{'id':'second','role':'second-generator'}]",
                "[" + GEAR + "]",
                "'mobile'",
                "25",
                "1");
        assertEquals("second there, rf there, sound next, supply next, data next", leads(mobile));
        assertTrue(
                mobile.get(0).path("to").asString().contains("not chosen"),
                mobile.get(0).toString());
        assertTrue(
                mobile.get(1).path("wrong").asString().matches("bears 10.W, the radio gives 25.W"),
                mobile.get(1).toString());
        assertEquals(
                "rf there",
                leads(page.call(
                        "leads",
                        "[{'id':'gen','role':'signal-generator'}]",
                        "[{'need':'gen','name':'Generator'}]",
                        "'base'",
                        "25",
                        "3")),
                "by hand there is the step attenuator alone");
    }

    // ---- what a page knows

    @Test
    void anOlderStateNeverReplacesANewerOne() {
        JsonNode model = page.call(
                "fold",
                "[{'kind':'seen','at':1,'view':{'n':7,'output':{'mode':'live'}}},{'kind':'seen','at':2,"
                        + "'view':{'n':6,'output':{'mode':'safe'}}}]");
        assertEquals("live", model.path("view").path("mode").asString());
        assertEquals(1, model.path("since").asInt());
    }

    @Test
    void figuresOfAnOutputThatIsOffAreGoneAtOnce() {
        String live = "{'kind':'seen','at':1,'view':{'n':7,'output':{'mode':'live'}}},"
                + "{'kind':'progress','progress':{'at':1,'picture':[],'values':{'current':{'value':300,'unit':'A'}}}}";
        assertEquals(
                300,
                page.call("fold", "[" + live + "]")
                        .path("progress")
                        .path("values")
                        .path("current")
                        .path("value")
                        .asInt());
        assertTrue(page.call("fold", "[" + live + ",{'kind':'seen','at':2,'view':{'n':8}}]")
                .path("progress")
                .isNull());
        assertTrue(
                page.call(
                                "fold",
                                "[{'kind':'seen','at':1,'view':{}},{'kind':'progress','progress':{'at':1,"
                                        + "'picture':[],'values':{}}}]")
                        .path("progress")
                        .isNull(),
                "a late figure of a safe output");
    }

    @Test
    void aFigureAloneLeavesThePictureOfItsAttemptAndOneOfAnotherTakesItOff() {
        String drawn = "{'kind':'seen','at':1,'view':{'n':7,'output':{'mode':'live','attempt':'a'}}},"
                + "{'kind':'progress','progress':{'at':1,'values':{},'picture':[{'name':'Carrier','x':[1],'y':[2]}]}}";
        String figure =
                "{'kind':'progress','progress':{'at':2,'values':{'power':{'value':5,'unit':'W'}},'picture':[]}}";
        JsonNode kept = page.call("fold", "[" + drawn + "," + figure + "]").path("progress");
        assertEquals("Carrier", kept.path("picture").path(0).path("name").asString());
        assertEquals(5, kept.path("values").path("power").path("value").asInt());
        JsonNode next = page.call(
                        "fold",
                        "[" + drawn + ",{'kind':'seen','at':2,'view':{'n':8,'output':{'mode':'live','attempt':'b'}}},"
                                + figure + "]")
                .path("progress");
        assertEquals(0, next.path("picture").size());
    }

    @Test
    void theNewsOfALostLinkStaysUntilTheNextAction() {
        String lost = "{'kind':'seen','at':1,'view':{'output':{'mode':'live'}}},{'kind':'silence'},"
                + "{'kind':'beat','beat':{'drives':true,'heard':true,'output':'safe','n':0}}";
        JsonNode back = page.call("fold", "[" + lost + "]");
        assertEquals("back", back.path("link").path("status").asString());
        assertTrue(back.path("link").path("whileNotSafe").asBoolean());
        assertEquals(
                "up",
                page.call("fold", "[" + lost + ",{'kind':'doing','what':'Noting'}]")
                        .path("link")
                        .path("status")
                        .asString());
    }

    // ---- what comes next

    private static final String STEPS =
            """
      'steps':[['look','inspection'],['safe','instruction',{'confirmations':[
        {'id':'lock','text':'Locked','back':'Unlocked','confirmed':%s,'restored':false},
              {'id':'plug','text':'Plug out','back':'Plug in','backBefore':'trip','confirmed':%s,'restored':%s}]}],
        ['trip','measurement',{'laneSet':'poles','lanes':[{'id':'A','label':'pole A'},{'id':'B','label':'pole B'}],
              'confirmations':[{'id':'read','text':'Read','confirmed':true,'restored':false}]}],
        ['back','instruction',{'confirmations':[
              {'id':'leads','text':'Leads off','confirmed':false,'restored':false}]}]],
      'points':[['look/case/-',{'unit':''%s}],['trip/time/A'],['trip/time/B']]""";
    private static final String ANSWERED = ",'counting':{'verdict':'pass','count':1}";

    private static JsonNode next(String at, Object locked, Object out, Object in, String answered, String view) {
        return page.call(
                "next", "{" + STEPS.formatted(locked, out, in, answered) + ",'view':" + view + ",'at':'" + at + "'}");
    }

    private static String attempts(String... each) {
        return Arrays.stream(each)
                .map(a -> a.split(" "))
                .map(a -> "{'id':'" + a[0] + "','step':'trip','lane':'" + a[1] + "','begunAt':" + a[2]
                        + ",'at':'2026-01-01T00:00:00Z','timeFactor':1,'readings':[],'outcome':'" + a[3] + "'"
                        + (a.length > 4 ? ",'voided':{'attempt':'x','reason':'lead','words':'w'}" : "") + "}")
                .collect(Collectors.joining(",", "[", "]"));
    }

    @Test
    void theWorkGoesThroughAnswersTicksAndLanesInOrder() {
        assertEquals("answer look/case/-", told(next("look", false, false, false, "", "{}")));
        assertEquals("goOn safe", told(next("look", false, false, false, ANSWERED, "{}")));
        assertEquals("tick safe/lock", told(next("safe", false, false, false, ANSWERED, "{}")));
        assertEquals("tick safe/plug", told(next("safe", true, false, false, ANSWERED, "{}")));
        assertEquals("goOn trip", told(next("safe", true, true, false, ANSWERED, "{}")));
        assertEquals(
                "tick back safe/plug",
                told(next("trip", true, true, false, ANSWERED, "{}")),
                "what must be back before a step comes before its lanes");
        assertEquals("measure trip/time/A", told(next("trip", true, true, true, ANSWERED, "{}")));
        assertEquals(
                "measure trip/time/B",
                told(next("trip", true, true, true, ANSWERED, "{'attempts':" + attempts("1 A 5 valid") + "}")));
        assertEquals(
                "measure trip/time/A",
                told(next(
                        "trip", true, true, true, ANSWERED, "{'attempts':" + attempts("1 A 5 connectionFailed") + "}")),
                "a failed check counts for nothing");
        assertEquals(
                "measure trip/time/A",
                told(next("trip", true, true, true, ANSWERED, "{'attempts':" + attempts("1 A 5 valid voided") + "}")));
        assertEquals(
                "goOn back",
                told(next(
                        "trip",
                        true,
                        true,
                        true,
                        ANSWERED,
                        "{'attempts':" + attempts("1 A 5 valid", "2 B 6 valid") + "}")));
        JsonNode last =
                next("back", true, true, true, ANSWERED, "{'attempts':" + attempts("1 A 5 valid", "2 B 6 valid") + "}");
        assertEquals("tick back safe/lock", told(last));
        assertEquals(
                List.of("back lock", "leads"),
                last.path("ticks").valueStream().map(JsonNode::asString).toList(),
                "the plug went back before the trip");
    }

    private static String told(JsonNode next) {
        return next.path("kind").asString()
                + (next.path("what").isNull() ? "" : " " + next.path("what").asString());
    }

    @Test
    void afterAnAdjustmentALaneIsMeasuredAgain() {
        String view = "{'attempts':" + attempts("1 A 5 valid", "2 B 6 valid")
                + ",'adjustments':[{'at':7,'points':['trip/time/B'],'what':'greased'}]}";
        JsonNode next = next("trip", true, true, true, ANSWERED, view);
        assertEquals("measure trip/time/B", told(next));
        assertTrue(next.path("again").asBoolean());
        assertTrue(next.path("missing").isEmpty(), "it may be measured again; the run can do without");
        String after = "{'attempts':" + attempts("1 A 5 valid", "2 B 6 valid", "3 B 8 valid")
                + ",'adjustments':[{'at':7,'points':['trip/time/B'],'what':'greased'}]}";
        assertEquals("goOn back", told(next("trip", true, true, true, ANSWERED, after)));
    }

    @Test
    void theEndLeadsToWhatIsStillOpenBeforeItFinishes() {
        String done = STEPS.formatted(true, true, true, ANSWERED)
                .replace("'Leads off','confirmed':false", "'Leads off','confirmed':true")
                .replace(
                        "'back':'Unlocked','confirmed':true,'restored':false",
                        "'back':'Unlocked','confirmed':true,'restored':true");
        JsonNode open =
                page.call("next", "{" + done + ",'view':{'attempts':" + attempts("1 A 5 valid") + "},'at':'back'}");
        assertEquals("goOn trip", told(open));
        assertEquals("trip", open.path("open").get(0).asString());
        assertEquals(
                "finish",
                told(page.call(
                        "next",
                        "{" + done + ",'view':{'attempts':" + attempts("1 A 5 valid", "2 B 6 valid")
                                + "},'at':'back'}")));
    }

    @Test
    void aSkippedStepAsksForNothing() {
        String skipped = STEPS.formatted(true, true, true, ANSWERED)
                .replace("['trip','measurement',{", "['trip','measurement',{'skipped':'no outage',");
        JsonNode next = page.call("next", "{" + skipped + ",'view':{},'at':'trip'}");
        assertEquals("goOn back", told(next));
        assertEquals("skipped", next.path("standings").get(1).asString());
    }

    @Test
    void whatFollowsByItselfAndIsDoneIsPassedOverOnTheWayOn() {
        String steps =
                "'steps':[['align','measurement'],['power','search',{'flows':true}],['ber','capture',{'flows':true}],"
                        + "['end','instruction']]," + "'points':[['align/ppm/-'],['power/level/-'],['ber/rate/-']]";
        String valid = "{'id':'%s','step':'%s','lane':'-','begunAt':%d,'at':'2026-01-01T00:00:00Z','timeFactor':1,"
                + "'readings':[],'outcome':'valid'}";
        String both = valid.formatted("1", "align", 3) + "," + valid.formatted("2", "power", 4);
        assertEquals(
                "goOn ber",
                told(page.call("next", "{" + steps + ",'view':{'attempts':[" + both + "]},'at':'align'}")),
                "the power stands already");
        assertEquals(
                "measure power/level/-",
                told(page.call(
                        "next",
                        "{" + steps + ",'view':{'attempts':[" + both
                                + "],'adjustments':[{'at':7,'points':['power/level/-'],'what':'set'}]},'at':'power'}")),
                "a search is measured like a measurement, and again once it was adjusted");
        assertEquals(
                "goOn power",
                told(page.call(
                        "next",
                        "{" + steps + ",'view':{'attempts':[" + both
                                + "],'adjustments':[{'at':7,'points':['power/level/-'],'what':'set'}]},"
                                + "'at':'align'}")));
        assertEquals(
                "goOn end",
                told(page.call(
                        "next",
                        "{" + steps + ",'view':{'attempts':[" + both + "," + valid.formatted("3", "ber", 5)
                                + "]},'at':'align'}")),
                "where a hand is needed the work stops");
    }

    @Test
    void figuresOfTheNextOutputOfASequenceDoNotBeginWithThoseOfTheLast() {
        String first = "{'kind':'seen','at':1,'view':{'n':7,'output':{'mode':'live','attempt':'1'}}},"
                + "{'kind':'progress','progress':{'at':1,'picture':[],'values':{'level':{'value':-119,'unit':'dBm'}}}}";
        assertEquals(
                -119,
                page.call(
                                "fold",
                                "[" + first + ",{'kind':'seen','at':2,'view':{'n':8,"
                                        + "'output':{'mode':'live','attempt':'1'}}}]")
                        .path("progress")
                        .path("values")
                        .path("level")
                        .path("value")
                        .asInt());
        assertTrue(page.call(
                        "fold",
                        "[" + first + ",{'kind':'seen','at':2,'view':{'n':8,'output':{'mode':'live','attempt':'2'}}}]")
                .path("progress")
                .isNull());
    }

    @Test
    void eachOfSeveralValuesOfALaneIsEntered() {
        String run = "'steps':[['level','entry',{'laneSet':'bands','lanes':[{'id':'A','label':'A'}]}],"
                + "['end','instruction']]," + "'points':[['level/generator/A'],['level/lead/A']],'at':'level'";
        String one = "{'id':'1','step':'level','lane':'A','begunAt':3,'at':'2026-01-01T00:00:00Z','timeFactor':1,"
                + "'readings':[],'outcome':'valid'}";
        assertEquals("enter level/generator/A", told(page.call("next", "{" + run + "}")));
        assertEquals(
                "enter level/lead/A",
                told(page.call(
                        "next",
                        "{" + run + ",'view':{'attempts':[" + one
                                + "],'readings':[{'attempt':'1','key':'level/generator/A'}]}}")),
                "the first value is not taken for the second");
        assertEquals(
                "goOn end",
                told(page.call(
                        "next",
                        "{" + run + ",'view':{'attempts':[" + one + "," + one.replace("'id':'1'", "'id':'2'")
                                + "],'readings':[{'attempt':'1','key':'level/generator/A'},"
                                + "{'attempt':'2','key':'level/lead/A'}]}}")));
    }

    // ---- numbers and places

    @ParameterizedTest
    @CsvSource(
            delimiter = ';',
            value = {
                "2.4;=;2.4",
                "2,4;=;2.4",
                "> 10;>;10",
                "<0,5;<;0.5",
                "1 266;=;1266",
                "-13,5;=;-13.5",
                "\u22125;=;-5",
                "1e3;=;1000",
                "12,3456;=;12.3456"
            })
    void numbersAreReadAsPeopleTypeThem(String typed, String qualifier, double value) {
        JsonNode read = page.call("typedNumber", "'" + typed + "'");
        assertEquals(qualifier, read.path("qualifier").asString(), read.toString());
        assertEquals(value, read.path("value").asDouble());
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = ';',
            value = {"warm", "1,266", "1.2.3", "''", "NaN", "Infinity", "1e999", "--5", "5 V", ">"})
    void whatCanBeMeantTwoWaysOrNotAtAllIsNoNumber(String typed) {
        assertTrue(page.call("typedNumber", "'" + typed + "'").isNull(), typed);
    }

    @Test
    void labelsKeepTheirOrderAndTheirDistance() {
        long seed = 11;
        Random random = new Random(seed);
        for (int i = 0; i < 300; i++) {
            double[] wanted = random.doubles(1 + random.nextInt(7), 0, 100).toArray();
            JsonNode placed = page.call("apart", Arrays.toString(wanted), "19");
            Integer[] order =
                    java.util.stream.IntStream.range(0, wanted.length).boxed().toArray(Integer[]::new);
            Arrays.sort(order, java.util.Comparator.comparingDouble(k -> wanted[k]));
            for (int k = 1; k < order.length; k++) {
                double gap = placed.get(order[k]).asDouble()
                        - placed.get(order[k - 1]).asDouble();
                assertTrue(gap >= 19 - 1e-9, "seed " + seed + ": " + Arrays.toString(wanted) + " became " + placed);
            }
            double shift = Arrays.stream(wanted).sum()
                    - placed.valueStream().mapToDouble(JsonNode::asDouble).sum();
            assertEquals(0, shift, 1e-6, "seed " + seed + ": on the whole they stay where they belong");
        }
    }

    @ParameterizedTest
    @CsvSource({
        "1, 1, 1000, true, 0",
        "1000, 1, 1000, true, 1",
        "31.6227766, 1, 1000, true, 0.5",
        "5, 0, 10, false, 0.5",
        "20, 0, 10, false, 2"
    })
    void valuesStandWhereTheirScaleSays(double value, double from, double to, boolean log, double share) {
        assertEquals(
                share,
                page.call("fraction", "{'from':" + from + ",'to':" + to + ",'log':" + log + "}", String.valueOf(value))
                        .asDouble(),
                1e-9);
    }

    @Test
    void axesHaveRoundTicks() {
        assertEquals(
                "[0,100,200,300]", page.call("linearTicks", "0", "320", "6").toString());
        assertEquals(
                "[100,200,500,1000,2000]",
                page.call("logTicks", "90", "2100", "[1,2,5]").toString());
        assertEquals("\"0:48\"", page.call("countdown", "47.2").toString());
        assertEquals("\"0:00\"", page.call("countdown", "-3").toString());
        assertEquals("4\u2006min 10\u2006s", page.call("duration", "250").asString());
    }

    // ---- records

    @ParameterizedTest
    @CsvSource({
        "pass, true, pass, Pass",
        "marginalInside, true, marginalInside, Marginal",
        "pass, false, notJudged, Incomplete",
        "notJudged, false, notJudged, Incomplete",
        "marginalInside, false, notJudged, Incomplete",
        "fail, false, fail, Fail",
        "marginalOutside, true, marginalOutside, 'Marginal, outside'"
    })
    void anIncompleteRecordIsNeverShownAsPassed(String verdict, boolean complete, String standing, String word) {
        String record = "{'verdict':'" + verdict + "','complete':" + complete + "}";
        assertEquals(standing, page.call("standing", record).asString());
        assertEquals(word, page.call("verdictWord", record).asString());
    }

    @Test
    void whatAListIsNarrowedToStandsInTheAddressWhateverWasTyped() {
        String text = "a&b=c d/ü%";
        String address = page.call(
                        "query",
                        "{'text':'" + text + "','site':'','verdict':'fail','from':'2026-01-02'}",
                        "{'after':'1.x'}")
                .asString();
        List<String> pairs = Arrays.stream(address.substring(1).split("&"))
                .map(p -> java.net.URLDecoder.decode(p, java.nio.charset.StandardCharsets.UTF_8))
                .sorted()
                .toList();
        assertEquals(List.of("after=1.x", "from=2026-01-02", "text=" + text, "verdict=fail"), pairs);
        assertEquals("", page.call("query", "{'text':''}").asString());
        assertEquals(
                "/records/A%3FB/2026/1",
                page.call("recordAddress", "'A?B/2026/1'").asString());
        assertEquals(
                "/compare?of=P%2F2026%2F1&with=last&with=P%2F2024%2F1",
                page.call("compareAddress", "'P/2026/1'", "['last','P/2024/1']").asString());
    }

    @Test
    void tracesOnOneAxisKeepEveryValueAtItsPlace() {
        JsonNode common =
                page.call("merged", "[{'x':[0,2,4],'y':[10,12,14]},{'x':[1,2,9],'y':[21,22,29]},{'x':[],'y':[]}]");
        assertEquals("[0,1,2,4,9]", common.path("x").toString());
        assertEquals(
                "[[10,null,12,14,null],[null,21,22,null,29],[null,null,null,null,null]]",
                common.path("y").toString());
    }

    // ---- the register

    private static JsonNode followed(int status, String... pieces) {
        return page.call(
                "followed",
                String.valueOf(status),
                tools.jackson.databind.json.JsonMapper.shared().writeValueAsString(List.of(pieces)));
    }

    /** Bytes come in pieces of any length: the answer is the same wherever they are cut. */
    @Test
    void eventsAreUnderstoodWhereverTheyAreCut() {
        String stream = "event: progress\ndata: {\"phase\":\"Pr\u00fcfen\",\"done\":1,\"total\":2}\n\nevent: "
                + "result\ndata: {\"rows\":2}\n\n";
        for (int cut = 1; cut < stream.length(); cut += 3) {
            JsonNode told = followed(200, stream.substring(0, cut), stream.substring(cut));
            assertEquals(2, told.path("result").path("rows").asInt(), "cut at " + cut);
            assertEquals("Pr\u00fcfen", told.path("heard").get(0).path("phase").asString(), "cut at " + cut);
        }
    }

    @Test
    void eventsThatEndWithoutAnAnswerAreToldAsABrokenLinkAndProblemsAsProblems() {
        JsonNode broken = followed(200, "event: progress\ndata: {\"phase\":\"x\",\"done\":0,\"total\":0}\n\n");
        assertEquals(
                List.of("0", "no-link", "1"),
                List.of(
                        broken.path("status").asString(),
                        broken.path("kind").asString(),
                        String.valueOf(broken.path("heard").size())));
        JsonNode refused = followed(
                200,
                "event: problem\ndata: "
                        + "{\"status\":409,\"type\":\"/problems/stored-already\",\"detail\":\"Stored.\"}\n\n");
        assertEquals(
                List.of("409", "stored-already", "Stored."),
                List.of(
                        refused.path("status").asString(),
                        refused.path("kind").asString(),
                        refused.path("message").asString()));
        JsonNode wrong = followed(
                422,
                "{\"type\":\"/problems/fields-invalid\",\"detail\":\"No.\",\"problems\":[{\"field\":\"a\","
                        + "\"what\":\"one\"},{\"field\":\"a\",\"what\":\"two\"},{\"field\":\"b\","
                        + "\"what\":\"three\"}]}");
        assertEquals("{\"a\":\"one\",\"b\":\"three\"}", wrong.path("fields").toString());
    }

    @ParameterizedTest
    @CsvSource({
        "Rated current In, ratedCurrentIn",
        "Rated voltage U0, ratedVoltageU0",
        "  Cl\u00e9 n\u00b0 , cleN",
        "X, x",
        "'', ''"
    })
    void aLabelSuggestsItsKey(String label, String key) {
        assertEquals(key, page.call("keyOf", "'" + label + "'").asString());
    }

    @ParameterizedTest
    @CsvSource({
        "400, number, V, 400\u2006V",
        "0.16 kA, number, A, 0.16\u2006kA",
        "3, number, '', 3",
        "'', number, V, ''",
        "vacuum, choice, '', vacuum",
        "12 V, text, '', 12 V",
        "1e-7 MOhm, number, \u03a9, 1e-7\u2006MOhm"
    })
    void aPlateValueReadsWithItsUnit(String typed, String kind, String symbol, String text) {
        assertEquals(
                text,
                page.call("plateText", "'" + typed + "'", "'" + kind + "'", "'" + symbol + "'")
                        .asString());
    }

    @Test
    void aRangeIsToldAsFarAsItIsKnown() {
        assertEquals(
                List.of("1 to 5", "at least 1", "at most 5", ""),
                List.of("{'min':1,'max':5}", "{'min':1}", "{'max':5}", "{}").stream()
                        .map(r -> page.call("rangeText", r).asString())
                        .toList());
    }

    // ---- references, charges, what nobody can tell

    private static String next(String told) {
        JsonNode next = page.call("next", told);
        return next.path("kind").asString() + " " + next.path("what").asString();
    }

    private static String counting(String reference) {
        return "{'steps':[['zero','reference'],['level','measurement',{'uses':['zero']}]],"
                + "'points':[['zero/v/-',{'counting':{}}],['level/v/-']],"
                + "'view':{'references':[{'step':'zero','lane':'-'" + reference + "}]},'at':'level'}";
    }

    @Test
    void whatCountsWithAReferenceThatDoesNotHoldLeadsToIt() {
        assertEquals("measure level/v/-", next(counting(",'attempt':'a'")));
        assertEquals("goOn zero", next(counting(",'fault':'was not taken yet'")));
        assertEquals("goOn zero", next(counting(",'attempt':'a','fault':'is 40 min old and holds for 30 min'")));
        String there = counting(",'attempt':'a','fault':'is void: moved'").replace("'at':'level'", "'at':'zero'");
        assertEquals("measure zero/v/-", next(there));
    }

    @Test
    void aReferenceThatRanOutIsNotTakenAgainForNothing() {
        String done = "{'steps':[['zero','reference'],['level','measurement',{'uses':['zero']}]],"
                + "'points':[['zero/v/-',{'counting':{}}],['level/v/-',{'counting':{}}]],"
                + "'view':{'references':[{'step':'zero','lane':'-','attempt':'a','fault':'is 40 min old'}],"
                + "'attempts':[{'id':'b','step':'level','lane':'-','begunAt':3,'outcome':'valid','blanks':[]}]},"
                + "'at':'level'}";
        assertEquals("finish ", next(done));
    }

    @Test
    void nothingGoesOnBeforeWhatWasChargedIsEarthed() {
        String told = "{'steps':[['level','measurement']],'points':[['level/v/-']],"
                + "'view':{'charges':[{'step':'level','lane':'-','below':50,'text':'Earthed'}]},'at':'level'}";
        assertEquals("charge ", next(told));
    }

    @Test
    void whatNobodyCouldTellIsSettledFirst() {
        String told = "{'steps':[['level','measurement']],'points':[['level/v/-']],"
                + "'view':{'attempts':[{'id':'b','step':'level','lane':'-','begunAt':3,'outcome':'unclear',"
                + "'blanks':[]}]},'at':'level'}";
        assertEquals("settle b", next(told));
        assertEquals("measure level/v/-", next(told.replace("'unclear'", "'connectionFailed'")));
    }

    @Test
    void aRowThatWasDiscoveredIsNeverStillToDo() {
        JsonNode rows = page.call(
                "next",
                "{'steps':[['look','measurement']],'points':[['look/size#1/A'],['look/v/A',{'counting':{}}]],"
                        + "'view':{'attempts':[{'id':'b','step':'look','lane':'A','begunAt':3,'outcome':'valid',"
                        + "'blanks':[]}]},'at':'look'}");
        assertEquals(0, rows.path("missing").size(), rows.toString());
        assertEquals(0, rows.path("due").size(), rows.toString());
    }

    @Test
    void whatTheLastHoldPutOnIsPutBackOnceAllIsMeasured() {
        String told = "{'steps':[['hood','instruction',{'confirmations':[{'id':'on','text':'Hood on','back':'Hood off',"
                + "'confirmed':true,'restored':false}]}],['level','measurement']],'points':[['level/v/-'COUNTS]],"
                + "'view':{'attempts':[ATTEMPTS]},'at':'hood'}";
        assertEquals("goOn level", next(told.replace("COUNTS", "").replace("ATTEMPTS", "")));
        assertEquals(
                "tick back hood/on",
                next(told.replace("COUNTS", ",{'counting':{}}")
                        .replace(
                                "ATTEMPTS",
                                "{'id':'b','step':'level','lane':'-','begunAt':3,'outcome':'valid','blanks':[]}")));
    }
}
