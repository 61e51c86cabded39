package org.juratest.formats;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertNotEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.StringReader;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import org.juratest.core.correction.Correction;
import org.juratest.core.curve.InverseTimeCurve;
import org.juratest.core.limit.LimitKind;
import org.juratest.core.limit.LimitSpec;
import org.juratest.core.procedure.CorrectionSpec;
import org.juratest.core.procedure.Discharge;
import org.juratest.core.procedure.LaneChoice;
import org.juratest.core.procedure.LaneRule;
import org.juratest.core.procedure.Param;
import org.juratest.core.procedure.Procedure;
import org.juratest.core.procedure.Step;
import org.juratest.formats.curve.CurveJson;
import org.juratest.formats.curve.CurveTable;
import org.juratest.formats.json.CoreJson;
import org.juratest.formats.procedure.ProcedureException;
import org.juratest.formats.procedure.ProcedureJson;

class ProcedureJsonTest {

    private static final String TEXT =
            """
      {"format": "juratest-procedure/1", "code": "T-1", "version": 2, "title": "Test", "family": "breakers",
        "appliesTo": ["lv-breaker"],
       "gear": [{"id": "mic", "role": "micro-ohmmeter", "needs": "10 A"}],
       "laneSets": {"poles": {"label": "pole", "lanes": [{"id": "A", "label": "A"}, {"id": "B", "label": "B"}]}},
       "steps": [
        {"id": "c", "kind": "measurement", "title": "Contact", "text": "Do", "minutes": 2,
          "lanes": "poles", "gear": "mic", "method": "contactResistance",
         "hazard": true, "params": {"current": {"value": 10, "unit": "A"}}, "maxima": {"current": {"value": 11,
           "unit": "A"}},
         "points": [{"id": "r", "label": "R", "unit": "uOhm",
           "limit": {"kind": "spread", "from": "lowest", "abovePercent": 50, "when": "stepEnd", "source": "poles"}}]},
        {"id": "d", "kind": "derivation", "title": "Twice", "text": "Do", "minutes": 0, "lanes": "poles",
         "points": [{"id": "t", "label": "Twice", "unit": "uOhm", "formula": "2 * r", "inputs": {"r": "reading:c/r"},
           "limit": {"kind": "formula", "high": "4 * r", "inputs": {"r": "reading:c/r"}, "when": "stepEnd",
             "source": "rule"}}]}]}
      """;

    static byte[] document() {
        return TEXT.getBytes(StandardCharsets.UTF_8);
    }

    @Test
    void aDocumentIsReadWithItsDefaultsAndExportsToItself() {
        Procedure procedure = ProcedureJson.read(document());
        Step step = procedure.step("c").orElseThrow();
        assertTrue(step.required());
        assertEquals(Step.Repeats.WORST, step.repeats());
        LimitSpec limit = step.points().get(0).limit();
        assertEquals(new LimitKind.Spread(LimitKind.From.LOWEST, 50.0, null), limit.kind());
        byte[] exported = ProcedureJson.canonical(procedure);
        assertEquals(procedure, ProcedureJson.read(exported));
        assertArrayEquals(exported, ProcedureJson.canonical(ProcedureJson.read(exported)));
        assertNotEquals(
                ProcedureJson.hash(procedure),
                ProcedureJson.hash(
                        ProcedureJson.read(TEXT.replace("4 * r", "5 * r").getBytes(StandardCharsets.UTF_8))));
    }

    private static byte[] judgedBy(String limit) {
        return TEXT.replace(
                        "{\"kind\": \"spread\", \"from\": \"lowest\", \"abovePercent\": 50, \"when\": \"stepEnd\", "
                                + "\"source\": \"poles\"}",
                        "{\"kind\": \"standard\"" + limit + ", \"when\": \"start\", \"source\": \"by class\"}")
                .getBytes(StandardCharsets.UTF_8);
    }

    @Test
    void aLimitOfTheLibraryOfStandardsIsReadAndExported() {
        Procedure procedure = ProcedureJson.read(judgedBy(", \"group\": \"voltageTransformer\", \"where\": "
                + "{\"class\": \"nameplate:accuracyClass\", \"quantity\": \"ratio, %\"}"));
        assertEquals(
                new LimitKind.Standard(
                        "voltageTransformer", Map.of("class", "nameplate:accuracyClass", "quantity", "ratio, %")),
                procedure.step("c").orElseThrow().points().get(0).limit().kind());
        assertEquals(procedure, ProcedureJson.read(ProcedureJson.canonical(procedure)));
    }

    /** Whatever is missing or wrong in it is refused by its place. */
    @ParameterizedTest
    @ValueSource(
            strings = {
                "",
                ", \"where\": {\"class\": \"1\"}",
                ", \"group\": \"voltageTransformer\"",
                ", \"group\": null, \"where\": {\"class\": \"1\"}",
                ", \"group\": \"voltageTransformer\", \"where\": {\"class\": null}",
                ", \"group\": \"voltageTransformer\", \"where\": {\"colour\": \"red\"}",
                ", \"group\": \"endFaces\", \"where\": {\"zone\": \"A\"}",
                ", \"group\": \"stamps\", \"where\": {\"class\": \"1\"}"
            })
    void aLimitOfTheLibraryThatCannotBeOneIsRefused(String limit) {
        ProcedureException e = assertThrows(ProcedureException.class, () -> ProcedureJson.read(judgedBy(limit)));
        assertTrue(
                e.problems().stream().anyMatch(p -> p.path().startsWith("steps[0].points[0].limit")),
                e.problems().toString());
    }

    /** A parameter stated for the whole document stands in every step whose method takes it, unless it has its own. */
    @Test
    void whatADocumentStatesForAllItsStepsIsFrozenInEach() {
        String all = TEXT.replace(
                        "\"steps\": [",
                        "\"defaults\": {\"params\": {\"current\": {\"value\": 7, \"unit\": \"A\"}, "
                                + "\"checkCurrent\": {\"value\": 5, \"unit\": \"A\"}}}, \"steps\": [")
                .replace(
                        "\"hazard\": true, \"params\": {\"current\": {\"value\": 10, \"unit\": \"A\"}},",
                        "\"hazard\": true,");
        Procedure procedure = ProcedureJson.read(all.getBytes(StandardCharsets.UTF_8));
        assertEquals(
                Map.of("current", Param.of(7, "A")),
                procedure.step("c").orElseThrow().params(),
                "what its method has no use for it does not get");
        assertTrue(procedure.step("d").orElseThrow().params().isEmpty());
        assertEquals(procedure, ProcedureJson.read(ProcedureJson.canonical(procedure)), "nothing is left to look up");
        Procedure own = ProcedureJson.read(all.replace(
                        "\"hazard\": true,",
                        "\"hazard\": true, \"params\": {\"current\": {\"value\": 3, \"unit\": \"A\"}},")
                .getBytes(StandardCharsets.UTF_8));
        assertEquals(
                Map.of("current", Param.of(3, "A")), own.step("c").orElseThrow().params());
    }

    @Test
    void lanesByARuleAndOfTwoSetsAreReadAndExported() {
        String lanes = TEXT.replace(
                "\"laneSets\": {",
                "\"laneSets\": {\"slots\": {\"label\": \"slot\", \"rule\": {\"count\": \"slots\", \"most\": 12, "
                        + "\"label\": \"no. {n}\", \"colours\": [\"red\", \"blue\"], \"coloursOf\": \"paint\", "
                        + "\"only\": {\"of\": [\"used\"], \"rows\": {\"odd\": \"1,3\"}}}}, "
                        + "\"both\": {\"label\": \"place\", \"product\": [\"slots\", \"poles\"]}, ");
        Procedure procedure = ProcedureJson.read(lanes.getBytes(StandardCharsets.UTF_8));
        assertEquals(
                new LaneRule(
                        "slots",
                        12,
                        "no. {n}",
                        List.of("red", "blue"),
                        "paint",
                        new LaneChoice(List.of("used"), Map.of("odd", "1,3"))),
                procedure.laneSets().get("slots").rule());
        assertEquals(List.of("slots", "poles"), procedure.laneSets().get("both").product());
        assertEquals(procedure, ProcedureJson.published(ProcedureJson.canonical(procedure)));
    }

    @Test
    void correctionsReferencesAndDischargeAreReadAndExported() {
        String more = TEXT.replace(
                "\"points\": [{\"id\": \"r\", \"label\": \"R\", \"unit\": \"uOhm\",",
                "\"more\": {\"discharge\": {\"below\": 50, \"earthMinutes\": 5, \"text\": \"Earthed by hand\"}}, "
                        + "\"points\": [{\"id\": \"r\", \"label\": \"R\", \"unit\": \"uOhm\", \"corrections\": "
                        + "[{\"name\": \"lead\", \"kind\": \"offset\", \"amount\": -0.5, \"u\": 0.1}],");
        Procedure procedure = ProcedureJson.read(more.getBytes(StandardCharsets.UTF_8));
        Step step = procedure.step("c").orElseThrow();
        assertEquals(new Discharge(50, 5, "Earthed by hand"), step.discharge());
        CorrectionSpec lead = step.points().get(0).allCorrections().get(0);
        assertEquals(Correction.Kind.OFFSET, lead.kind());
        assertEquals(-0.5, lead.amount());
        assertEquals(0.1, lead.u());
        assertEquals(procedure, ProcedureJson.published(ProcedureJson.canonical(procedure)));
        ProcedureException e = assertThrows(
                ProcedureException.class,
                () -> ProcedureJson.read(
                        more.replace("\"amount\": -0.5", "\"sum\": -0.5").getBytes(StandardCharsets.UTF_8)));
        assertTrue(
                e.problems().stream().anyMatch(p -> p.path().startsWith("steps[0].points[0].corrections[0]")),
                e.getMessage());
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "4 * r | 4 * (r | steps[1].points[0].limit.high | at character 5",
                "4 * r | 4 * q | steps[1].points[0].limit.high | \"q\" at character 5",
                "\"version\": 2 | \"version\": 0 | version | minimum",
                "\"family\": \"breakers\" | \"family\": \"To ys\" | family | pattern",
                "\"minutes\": 2 | \"minutes\": \"two\" | steps[0].minutes | number",
                "\"method\": \"contactResistance\" | \"method\": \"guess\" | steps[0].method | no method \"guess\"",
                "\"unit\": \"uOhm\", \"formula\" | \"unit\": \"blob\", \"formula\" | steps[1].points[0].unit | blob",
                "\"when\": \"stepEnd\", \"source\": \"poles\" | \"when\": \"start\", \"source\": \"poles\" | "
                        + "steps[0].points[0].limit | end of the step",
                "\"abovePercent\": 50 | \"abovePercent\": 50, \"abovPercent\": 5 | steps[0].points[0].limit | "
                        + "abovPercent",
                "\"hazard\": true | \"hazrd\": true | steps[0] | hazrd",
                "\"lanes\": \"poles\", \"gear\" | \"lanes\": \"bands\", \"gear\" | steps[0].lanes | bands"
            })
    void everyProblemIsNamedWithItsPlace(String good, String bad, String path, String word) {
        assertTrue(TEXT.contains(good));
        ProcedureException e = assertThrows(
                ProcedureException.class,
                () -> ProcedureJson.read(TEXT.replace(good, bad).getBytes(StandardCharsets.UTF_8)));
        assertTrue(e.problems().get(0).path().startsWith(path), e.getMessage());
        assertTrue(e.getMessage().contains(word), e.getMessage());
    }

    @Test
    void whatIsNotJsonIsNamedByLine() {
        ProcedureException e = assertThrows(
                ProcedureException.class,
                () -> ProcedureJson.read("{\n \"format\": ,}".getBytes(StandardCharsets.UTF_8)));
        assertTrue(e.problems().get(0).path().startsWith("line 2"), e.getMessage());
    }

    @Test
    void curvesComeBackAsTheyWereWritten() {
        byte[] text =
                """
        {"format": "juratest-curves/1", "models": [{"id": "m", "maker": "Orvex", "model": "M",
          "technology": "electronic", "source": "s",
          "condition": "c", "ratings": [100], "settings": [], "defaults": {"ir": 80}, "elements": [
          {"id": "l", "label": "long time", "settingKey": "ir", "pickUpLow": 1.05, "pickUpHigh": 1.2,
            "shape": {"kind": "inverse", "curve": "iec-vi", "minusPercent": 10, "plusPercent": 10, "from": 1.1,
              "upTo": 20}}]}]}
        """
                        .getBytes(StandardCharsets.UTF_8);
        byte[] written = CurveJson.write(CurveJson.read(text));
        assertEquals(CurveJson.read(text), CurveJson.read(written));
        assertTrue(new String(written, StandardCharsets.UTF_8).contains("\"iec-vi\""));
        assertThrows(
                IllegalArgumentException.class,
                () -> CurveJson.read("{\"format\": \"other\", \"models\": []}".getBytes(StandardCharsets.UTF_8)));
        assertThrows(
                IllegalArgumentException.class,
                () -> CurveJson.read(new String(text, StandardCharsets.UTF_8)
                        .replace("upTo", "upto")
                        .getBytes(StandardCharsets.UTF_8)));
    }

    @Test
    void aCurveTableIsReadInAnyOrderOfColumnsAndWithAByteOrderMark() throws Exception {
        assertEquals(
                List.of(
                        new CurveTable.Row(InverseTimeCurve.IEC_SI, 0.1, 5),
                        new CurveTable.Row(InverseTimeCurve.LTI, 1, 0.5)),
                CurveTable.read(
                        new StringReader("\uFEFFmultiple,curve,timeSetting\r\n5,iec-si,0.1\r\n\r\n0.5, lti ,1\r\n")));
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "curve,timeSetting | columns",
                "curve,timeSetting,multiple | no row",
                "curve,timeSetting,multiple;iec-xx,1,2 | row 1, column curve",
                "curve,timeSetting,multiple;iec-si,1,2;iec-si,0,2 | row 2, column timeSetting",
                "curve,timeSetting,multiple;iec-si,1,NaN | row 1, column multiple",
                "curve,timeSetting,multiple;iec-si,1,-2 | row 1, column multiple",
                "curve,timeSetting,multiple;iec-si,1 | row 1 has 2 fields",
                "curve,timeSetting,multiple;iec-si,1,two | \"two\" is not a finite number"
            })
    void aBadCurveTableNamesRowAndColumn(String lines, String word) {
        IllegalArgumentException e = assertThrows(
                IllegalArgumentException.class, () -> CurveTable.read(new StringReader(lines.replace(';', '\n'))));
        assertTrue(e.getMessage().contains(word), e.getMessage());
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "{\"kind\":\"along\",\"of\":\"with:current\",\"between\":\"log\",\"places\":[{\"at\":1.0,\"low\":2.0},"
                        + "{\"at\":10.0,\"low\":5.0,\"high\":9.0}],\"when\":\"reading\",\"source\":\"sheet\"}",
                "{\"kind\":\"table\",\"of\":\"nameplate:grade\",\"by\":\"param:load\",\"rows\":[{\"is\":\"0.5 S\","
                        + "\"byUpTo\":0.05,\"high\":1.0}],\"when\":\"start\",\"source\":\"sheet\"}",
                "{\"kind\":\"table\",\"of\":\"nameplate:ue\",\"rows\":[{\"upTo\":250.0,\"low\":25.0}],"
                        + "\"when\":\"start\",\"source\":\"sheet\"}",
                // The first limit over another value of the reading; runs of those days keep its name.
                "{\"kind\":\"band\",\"when\":\"reading\",\"source\":\"sheet\"}"
            })
    void aLimitIsWrittenAsItWasRead(String text) {
        LimitSpec limit = CoreJson.mapper().readValue(text, LimitSpec.class);
        assertEquals(CoreJson.mapper().readTree(text), CoreJson.mapper().valueToTree(limit));
        assertEquals(limit, CoreJson.mapper().readValue(CoreJson.mapper().writeValueAsString(limit), LimitSpec.class));
    }

    @Test
    void whatWasPublishedStaysReadableWhateverIsAskedOfProceduresSince() {
        byte[] document = TEXT.replace("\"method\": \"contactResistance\"", "\"method\": \"gone\"")
                .getBytes(StandardCharsets.UTF_8);
        assertThrows(ProcedureException.class, () -> ProcedureJson.read(document));
        Procedure published = ProcedureJson.published(document);
        assertEquals("gone", published.step("c").orElseThrow().method());
        assertArrayEquals(
                ProcedureJson.canonical(published),
                ProcedureJson.canonical(ProcedureJson.published(ProcedureJson.canonical(published))));
        assertThrows(
                ProcedureException.class,
                () -> ProcedureJson.published("{\"format\": 1}".getBytes(StandardCharsets.UTF_8)));
    }
}
