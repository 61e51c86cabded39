package org.juratest.server.command;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.IOException;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import org.juratest.formats.json.CoreJson;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import picocli.CommandLine;
import tools.jackson.databind.JsonNode;

class AnalyseCommandTest {

  @TempDir
  private Path folder;
  private final StringWriter out = new StringWriter();

  private int analyse(String... arguments) {
    return new CommandLine(new AnalyseCommand()).setOut(new PrintWriter(out, true)).setErr(new PrintWriter(new StringWriter())).execute(arguments);
  }

  private String table(String name, String... rows) throws IOException {
    return Files.writeString(folder.resolve(name), "curve,timeSetting,multiple\n" + String.join("\n", rows) + "\n").toString();
  }

  private List<JsonNode> printed() {
    return out.toString().lines().map(line -> CoreJson.mapper().readTree(line)).toList();
  }

  @Test
  void printsOneObjectWithNullWhereThereIsNoTime() throws IOException {
    assertEquals(0, analyse("curve", table("a.csv", "iec-vi,1,10", "ieee-vi,2,0.5", "iec-si,1,1")));
    JsonNode result = printed().get(0);
    assertEquals(List.of("points", "warnings"), List.copyOf(result.propertyNames()));
    JsonNode points = result.path("points");
    points.forEach(p -> assertEquals(List.of("trip_s", "reset_s"), List.copyOf(p.propertyNames())));
    assertEquals(1.5, points.get(0).path("trip_s").asDouble(), 1e-12);
    assertEquals(57.6, points.get(1).path("reset_s").asDouble(), 1e-12); // 2 * 21.6 / (1 - 0.25)
    assertTrue(points.get(0).path("reset_s").isNull() && points.get(1).path("trip_s").isNull());
    assertTrue(points.get(2).path("trip_s").isNull() && points.get(2).path("reset_s").isNull());
    assertEquals(0, result.path("warnings").size());
  }

  @Test
  void warnsOfACurveThatIsInNoStandard() throws IOException {
    assertEquals(0, analyse("curve", table("a.csv", "lti,1,2")));
    assertTrue(printed().get(0).path("warnings").get(0).asString().contains("not in the table"));
  }

  @Test
  void aRefusalExitsTwoWithItsReason() throws IOException {
    assertEquals(2, analyse("curve", folder.resolve("none.csv").toString()));
    assertEquals(2, analyse("curve", table("b.csv", "iec-vi,1,ten")));
    assertEquals(2, analyse("horoscope", table("c.csv", "iec-vi,1,10")));
    assertEquals(2, analyse("curve", "a", "b"));
    List<JsonNode> errors = printed();
    assertEquals(4, errors.size());
    assertTrue(errors.get(0).path("error").path("reason").asString().contains("no such file"));
    assertTrue(errors.get(1).path("error").path("reason").asString().contains("row 1, column multiple"));
    assertEquals("unknown-kind", errors.get(2).path("error").path("code").asString());
    assertEquals("one-input", errors.get(3).path("error").path("code").asString());
  }

  @Test
  void eachInputIsALineInOrderAndOneRefusalSetsTheExit() throws IOException {
    String good = table("a.csv", "iec-ei,1,3");
    assertEquals(2, analyse("--each", "curve", good, folder.resolve("none.csv").toString(), good));
    List<JsonNode> lines = printed();
    assertEquals(List.of(true, false, true), lines.stream().map(l -> l.has("points")).toList());
    assertEquals(10, lines.get(2).path("points").get(0).path("trip_s").asDouble(), 1e-12);
  }
}
