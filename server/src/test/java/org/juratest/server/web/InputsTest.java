package org.juratest.server.web;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertNotNull;
import static org.junit.jupiter.api.Assertions.assertTrue;
import static org.junit.jupiter.params.provider.Arguments.arguments;

import java.io.DataOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.net.HttpURLConnection;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;
import org.junit.jupiter.params.provider.ValueSource;
import org.juratest.formats.json.CoreJson;
import org.juratest.server.TestServer;
import org.juratest.server.command.ApiClient;
import org.juratest.server.command.ApiClient.ProblemException;
import org.springframework.web.bind.annotation.RequestMethod;
import org.springframework.web.servlet.mvc.method.annotation.RequestMappingHandlerMapping;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * Whatever is sent: an answer in words that names the field, never a fault of ours, never a name of our code, and
 * nothing kept that cannot be.
 */
class InputsTest {

    private static final Pattern CODE = Pattern.compile("\\b(org|java|tools|jdk|com)\\.[a-z]+\\.|Exception|`");
    private static TestServer server;
    private static ApiClient technician;
    private static ApiClient supervisor;
    private final Random random = new Random(20261127);

    @BeforeAll
    static void start() {
        server = TestServer.start();
        technician = server.client("tavel", "rack-rail-16");
        supervisor = server.client("oster", "penstock-42");
    }

    @AfterAll
    static void stop() {
        server.close();
    }

    private static JsonNode run(String position) {
        JsonNode job = technician
                .get("/api/jobs")
                .path("jobs")
                .valueStream()
                .filter(j -> j.path("position").asString().equals(position))
                .findFirst()
                .orElseThrow();
        String id = job.hasNonNull("run")
                ? job.path("run").asString()
                : technician
                        .post("/api/jobs/" + job.path("id").asLong() + "/run", Map.of("gear", Map.of()), null)
                        .path("id")
                        .asString();
        return technician.drive(id);
    }

    /** Null if it was taken; else the refusal, of which the rest is asserted here. */
    private static ProblemException tried(ApiClient api, String path, byte[] body, Long personEvents) {
        try {
            api.post(path, body, personEvents);
            return null;
        } catch (ProblemException e) {
            String sent = new String(body, StandardCharsets.UTF_8);
            assertTrue(e.status() < 500, path + " " + sent + ": " + e.status() + " " + e.getMessage());
            assertFalse(CODE.matcher(e.getMessage() + e.fields()).find(), sent + ": " + e.getMessage() + e.fields());
            assertFalse(e.getMessage().startsWith("the server answered"), sent);
            return e;
        }
    }

    static Stream<org.junit.jupiter.params.provider.Arguments> limits() {
        return Stream.of(
                arguments("{\"kind\":\"atMost\",\"high\":1e308}", "limit.high"),
                arguments("{\"kind\":\"fixed\",\"low\":9,\"high\":1}", "limit.high"),
                arguments("{\"kind\":\"fixed\",\"low\":\"NaN\",\"high\":1}", "limit.low"),
                arguments("{\"kind\":\"atMost\",\"high\":\"Infinity\"}", "limit.high"),
                arguments(
                        "{\"kind\":\"nominal\",\"nominal\":5,\"minus\":-1,\"plus\":1,\"in\":\"unit\"}", "limit.minus"),
                arguments("{\"kind\":\"table\",\"of\":\"nameplate:ratedCurrent\",\"rows\":[]}", "limit.rows"),
                arguments("{\"kind\":\"atMost\",\"high\":5,\"marginalHigh\":\"soon\"}", "limit.marginalHigh"),
                arguments("{\"kind\":\"sometimes\"}", "limit"),
                arguments("{\"kind\":\"atMost\",\"high\":5,\"source\":\"a\\u0000b\"}", "limit.source"),
                arguments("{\"kind\":\"atMost\",\"high\":5,\"source\":\"\\ud800\"}", "limit.source"));
    }

    @ParameterizedTest
    @MethodSource("limits")
    void aLimitThatCannotBeIsRefusedByItsFieldAndTheRunIsStillSeen(String limit, String field) {
        JsonNode view = run("MFR-CBK-07");
        String path = "/api/runs/" + view.path("id").asString();
        String full = limit.contains("source")
                ? limit
                : limit.replace("}", ",\"source\":\"trial\"}").replace("[,\"source\":\"trial\"}]", "[]");
        String body = "{\"type\":\"limitChanged\",\"data\":{\"step\":\"contact\",\"point\":\"r\","
                + "\"reason\":\"trial\",\"limit\":" + full + "}}";
        ProblemException refused = tried(
                technician,
                path + "/events",
                body.getBytes(StandardCharsets.UTF_8),
                view.path("personEvents").asLong());
        assertNotNull(refused, "it was taken: " + body);
        assertTrue(refused.field().startsWith(field), refused.field() + ": " + refused.getMessage());
        assertEquals(view.path("n"), technician.get(path).path("n"));
    }

    @Test
    void anEntryThatCannotBeIsRefusedByItsField() {
        JsonNode view = run("MFR-CBK-08");
        JsonNode now = view;
        for (JsonNode step : view.path("steps")) {
            if (!step.path("inScope").asBoolean()) {
                continue;
            }
            for (JsonNode confirmation : step.path("confirmations")) {
                now = technician.act(
                        now,
                        "holdReleased",
                        Map.of(
                                "step",
                                step.path("id").asString(),
                                "confirmation",
                                confirmation.path("id").asString()));
            }
        }
        JsonNode point = now.path("points")
                .valueStream()
                .filter(p -> p.path("key").asString().startsWith("insulation/"))
                .findFirst()
                .orElseThrow();
        String path = "/api/runs/" + view.path("id").asString();
        for (String value : List.of("1e300", "-1e300", "\"NaN\"", "\"Infinity\"", "1e999", "-5", "\"5\\u0000\"")) {
            String[] key = point.path("key").asString().split("/", 3);
            String body = "{\"step\":\"" + key[0] + "\",\"point\":\"" + key[1] + "\",\"lane\":\"" + key[2]
                    + "\",\"value\":" + value + ",\"unit\":\"MOhm\",\"qualifier\":\"=\"}";
            ProblemException refused = tried(
                    technician,
                    path + "/entries",
                    body.getBytes(StandardCharsets.UTF_8),
                    now.path("personEvents").asLong());
            assertNotNull(refused, "it was taken: " + body);
            assertEquals("value", refused.field(), refused.getMessage());
            assertEquals(now.path("n"), technician.get(path).path("n"));
        }
    }

    /** A document with one to three of its parts replaced, taken out, added or doubled. */
    private JsonNode mutated(JsonNode document) {
        JsonNode copy = document.deepCopy();
        for (int n = 1 + random.nextInt(3); n > 0; n--) {
            List<JsonNode> holders = new ArrayList<>();
            collect(copy, holders);
            JsonNode holder = holders.get(random.nextInt(holders.size()));
            if (holder instanceof ObjectNode object) {
                List<String> names = List.copyOf(object.propertyNames());
                String name =
                        names.isEmpty() || random.nextInt(8) == 0 ? "surplus" : names.get(random.nextInt(names.size()));
                if (random.nextInt(4) == 0) {
                    object.remove(name);
                } else {
                    object.set(name, junk());
                }
            } else if (holder instanceof ArrayNode list && !list.isEmpty()) {
                int at = random.nextInt(list.size());
                switch (random.nextInt(3)) {
                    case 0 -> list.remove(at);
                    case 1 -> list.set(at, junk());
                    default -> list.add(list.get(at).deepCopy());
                }
            }
        }
        return copy;
    }

    private static void collect(JsonNode node, List<JsonNode> into) {
        if (node.isContainer()) {
            into.add(node);
            node.values().forEach(child -> collect(child, into));
        }
    }

    private JsonNode junk() {
        String[] all = {
            "null",
            "true",
            "-1",
            "0",
            "1e308",
            "-1e308",
            "1e-320",
            "2147483648",
            "9223372036854775808",
            "\"\"",
            "\"NaN\"",
            "\"\\u0000\"",
            "\"\\ud800x\"",
            "\"../..\"",
            "\" \"",
            "\"number\"",
            "\"" + "x".repeat(5_000) + "\"",
            "[]",
            "{}",
            "[null]",
            "[[[]]]",
            "{\"\":null}",
            "{\"a\\u0000\":1}",
            "{\"kind\":\"fixed\"}",
            "\"2026-13-45\"",
            "1.5"
        };
        return CoreJson.mapper().readTree(all[random.nextInt(all.length)]);
    }

    @Test
    void mutatedVariantsAreTakenAsTheyAreOrRefusedInWords() {
        JsonNode view = run("MFR-CBK-09");
        JsonNode now = technician.act(
                view,
                "scopeSet",
                Map.of(
                        "scope",
                        Map.of(
                                "withoutSteps",
                                List.of(),
                                "withoutLanes",
                                Map.of(),
                                "withoutPairs",
                                List.of("contact/B"))));
        now = technician.act(
                now,
                "limitChanged",
                Map.of(
                        "step",
                        "contact",
                        "point",
                        "r",
                        "lane",
                        "A",
                        "reason",
                        "old bars",
                        "limit",
                        Map.of(
                                "kind",
                                "fixed",
                                "when",
                                "start",
                                "source",
                                "house rule",
                                "low",
                                5,
                                "high",
                                500,
                                "ideal",
                                50,
                                "marginalHigh",
                                450)));
        String code = technician
                .post(
                        "/api/runs/" + view.path("id").asString() + "/variants",
                        Map.of("name", "Fuzz", "words", "w"),
                        now.path("personEvents").asLong())
                .at("/variant/code")
                .asString();
        JsonNode sound = CoreJson.mapper().readTree(technician.bytes("/api/variants/" + code + "/1"));
        int taken = 0;
        for (int i = 0; i < 600; i++) {
            ObjectNode sent = (ObjectNode) mutated(sound);
            if (sent.path("revision").asInt(0) == 1) {
                sent.put("revision", i + 2);
            }
            if (tried(technician, "/api/variants", CoreJson.mapper().writeValueAsBytes(sent), null) == null) {
                taken++;
                for (JsonNode limit : sent.path("limits")) {
                    double low = limit.at("/limit/low").asDouble(0);
                    double high = limit.at("/limit/high").asDouble(1e9);
                    assertTrue(low <= high && Math.abs(low) < 1e18 && Math.abs(high) < 1e25, sent.toString());
                }
            }
        }
        assertTrue(taken > 20, "only " + taken + " were taken: this tries nothing beyond the border");
    }

    @Test
    void mutatedClassDocumentsAreKeptWordForWordOrRefused() throws IOException {
        JsonNode sound;
        try (InputStream in = InputsTest.class.getResourceAsStream("/families/machines/classes/shut-off-valve.json")) {
            sound = CoreJson.mapper().readTree(in);
        }
        int taken = 0;
        for (int i = 0; i < 600; i++) {
            ObjectNode sent = (ObjectNode) mutated(sound);
            if (sent.path("code").asString("").equals("shut-off-valve")) {
                sent.put("code", "fuzz-" + i);
            }
            if (tried(
                            supervisor,
                            "/api/asset-classes/documents",
                            CoreJson.mapper().writeValueAsBytes(sent),
                            null)
                    == null) {
                taken++;
                JsonNode kept =
                        supervisor.get("/api/asset-classes/" + sent.path("code").asString() + "/document");
                sameRules(sent.path("schema"), kept.path("schema"), sent.toString());
                supervisor.delete("/api/asset-classes/" + sent.path("code").asString());
            }
        }
        assertTrue(taken > 20, "only " + taken + " were taken: this tries nothing beyond the border");
    }

    /** What was sent and taken is what is kept: no bound, no choice, no duty fell away. */
    private static void sameRules(JsonNode sent, JsonNode kept, String whole) {
        for (String part : List.of("ratings", "texts")) {
            JsonNode theirs = sent.path("properties").path(part);
            JsonNode ours = kept.path("properties").path(part);
            theirs.path("properties").properties().forEach(field -> {
                JsonNode mine = ours.path("properties").path(field.getKey());
                for (String pointer : List.of("/properties/value/minimum", "/properties/value/maximum", "/enum")) {
                    JsonNode rule = field.getValue().at(pointer);
                    boolean same = rule.isNumber()
                            ? rule.asDouble() == mine.at(pointer).asDouble(Double.NaN)
                            : rule.isMissingNode() || rule.isEmpty() || rule.equals(mine.at(pointer));
                    assertTrue(same, field.getKey() + pointer + " was not kept: " + whole);
                }
            });
            theirs.path("required")
                    .forEach(r -> assertTrue(
                            ours.path("required").valueStream().anyMatch(r::equals),
                            r + " is no longer required: " + whole));
        }
    }

    private static HttpURLConnection open(String address) throws IOException {
        HttpURLConnection connection = (HttpURLConnection) java.net
                .URI
                .create("http://127.0.0.1:" + server.port() + address)
                .toURL()
                .openConnection();
        connection.setRequestProperty("Cookie", technician.cookies());
        connection.setRequestProperty("Accept", "application/json");
        connection.setReadTimeout(60_000);
        return connection;
    }

    /** Every address that is read, with what nobody should put into it. */
    @ParameterizedTest
    @ValueSource(
            strings = {
                "%00",
                "a%00b",
                "%ED%A0%80",
                "%FF",
                "%E2%82",
                "1e999",
                "-1",
                "99999999999999999999",
                "%F0%9F%94%A5",
                "..%2f..",
                "%22%27;--",
                "A",
                "2026-02-30"
            })
    void noAddressIsAFaultOfOurs(String value) throws IOException {
        List<String> wrong = new ArrayList<>();
        int asked = 0;
        for (var mapping : server.context()
                .getBean("requestMappingHandlerMapping", RequestMappingHandlerMapping.class)
                .getHandlerMethods()
                .keySet()) {
            for (String pattern : mapping.getPatternValues()) {
                if (pattern.startsWith("/api/")
                        && mapping.getMethodsCondition().getMethods().contains(RequestMethod.GET)) {
                    String names = "q,search,from,to,after,cursor,site,class,sort,page,size,day,asset,procedure,limit,"
                            + "format,person,n,seen,horizon,where";
                    String query = "?"
                            + String.join(
                                    "&",
                                    Stream.of(names.split(","))
                                            .map(n -> n + "=" + value)
                                            .toList());
                    for (String address : pattern.contains("{")
                            ? List.of(pattern.replaceAll("\\{[^}]+}", java.util.regex.Matcher.quoteReplacement(value)))
                            : List.of(pattern + query)) {
                        HttpURLConnection connection = open(address);
                        int status = connection.getResponseCode();
                        if (status >= 400) {
                            asked++;
                            InputStream body = connection.getErrorStream();
                            String text = body == null ? "" : new String(body.readAllBytes(), StandardCharsets.UTF_8);
                            if (status >= 500 || CODE.matcher(text).find()) {
                                wrong.add(status + " " + address.substring(0, Math.min(80, address.length())) + " "
                                        + text);
                            }
                        }
                        connection.disconnect();
                    }
                }
            }
        }
        assertEquals(List.of(), wrong);
        assertTrue(asked > 10, "hardly anything refused it");
    }

    @Test
    void aNulInASearchIsRefusedByName() throws IOException {
        HttpURLConnection connection = open("/api/jobs?q=a%00b");
        assertEquals(400, connection.getResponseCode());
        JsonNode problem = CoreJson.mapper().readTree(connection.getErrorStream());
        assertEquals("q", problem.path("field").asString());
        assertTrue(problem.path("detail").asString().contains("NUL"), problem.toString());
    }

    @Test
    void anEscapeThatIsNoneIsRefused() throws IOException {
        try (Socket socket = new Socket("127.0.0.1", server.port())) {
            socket.setSoTimeout(60_000);
            socket.getOutputStream()
                    .write(("GET /api/jobs?q=% HTTP/1.1\r\nHost: 127.0.0.1\r\nConnection: close\r\n\r\n")
                            .getBytes(StandardCharsets.US_ASCII));
            assertEquals("HTTP/1.1 400", new String(socket.getInputStream().readNBytes(12), StandardCharsets.US_ASCII));
        }
    }

    /** Nothing of a body that is too large is waited for or kept, whether it says its length or not. */
    @ParameterizedTest
    @ValueSource(strings = {"/api/session", "/api/blobs", "/api/register/imports", "/api/jobs"})
    void aBodyThatIsTooLargeIsRefusedBeforeItIsRead(String path) throws IOException {
        try (Socket socket = new Socket("127.0.0.1", server.port())) {
            socket.setSoTimeout(60_000);
            socket.getOutputStream()
                    .write(("POST " + path + " HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Type: "
                                    + "application/json\r\nContent-Length: 95000000\r\n\r\n")
                            .getBytes(StandardCharsets.US_ASCII));
            String head = new String(socket.getInputStream().readNBytes(12), StandardCharsets.US_ASCII);
            assertEquals("HTTP/1.1 413", head);
        }
    }

    @Test
    void aBodyOfUnsaidLengthIsCutOffAtItsLimit() throws IOException {
        try (Socket socket = new Socket("127.0.0.1", server.port())) {
            socket.setSoTimeout(60_000);
            socket.getOutputStream()
                    .write(("POST /api/session HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Type: "
                                    + "application/json\r\nTransfer-Encoding: chunked\r\n\r\n")
                            .getBytes(StandardCharsets.US_ASCII));
            byte[] chunk = ("1000\r\n" + " ".repeat(4096) + "\r\n").getBytes(StandardCharsets.US_ASCII);
            int sent = 0;
            String head = "";
            try {
                for (; sent < 95_000_000 && socket.getInputStream().available() == 0; sent += 4096) {
                    socket.getOutputStream().write(chunk);
                }
                head = new String(socket.getInputStream().readNBytes(12), StandardCharsets.US_ASCII);
            } catch (java.net.SocketException e) {
                head = "closed";
            }
            assertTrue(sent < 10_000_000, sent + " bytes were taken before anything was said");
            assertTrue(List.of("HTTP/1.1 413", "HTTP/1.1 403", "closed").contains(head), head);
        }
    }

    /** 900 megapixels of nothing compress to less than a megabyte; unpacked they are 3.6 GB. */
    @Test
    void aPictureOfTooManyPixelsIsRefused() throws IOException {
        java.io.ByteArrayOutputStream png = new java.io.ByteArrayOutputStream();
        try (DataOutputStream out = new DataOutputStream(png)) {
            out.write(new byte[] {(byte) 0x89, 'P', 'N', 'G', '\r', '\n', 0x1A, '\n'});
            byte[] header = java.nio.ByteBuffer.allocate(17)
                    .put("IHDR".getBytes(StandardCharsets.US_ASCII))
                    .putInt(30_000)
                    .putInt(30_000)
                    .put(new byte[] {8, 2, 0, 0, 0})
                    .array();
            java.util.zip.CRC32 crc = new java.util.zip.CRC32();
            crc.update(header);
            out.writeInt(13);
            out.write(header);
            out.writeInt((int) crc.getValue());
        }
        ProblemException refused = tried(technician, "/api/blobs", png.toByteArray(), null);
        assertNotNull(refused, "it was taken");
        assertTrue(
                refused.getMessage().contains("30000")
                        || refused.getMessage().contains("megapixel")
                        || refused.getMessage().contains("pixels"),
                refused.getMessage());
    }
}
