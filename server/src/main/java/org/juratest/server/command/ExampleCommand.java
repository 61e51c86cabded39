package org.juratest.server.command;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.io.PrintStream;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.concurrent.Callable;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import org.juratest.core.quantity.Unit;
import org.juratest.formats.json.CoreJson;
import org.juratest.server.family.FamilyFiles;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import tools.jackson.databind.JsonNode;

/**
 * {@code example}: a technician's work on one due job, as a client of the started server. It answers, confirms, enters
 * and measures as the procedure says, repairs what fails, and finishes. Where a person's hands and eyes are needed it
 * reaches to the stand-ins' control port, which no driver ever opens.
 */
@Command(name = "example", description = "Runs a due job against the stand-ins and prints readings with verdicts")
final class ExampleCommand implements Callable<Integer> {

    private static final double TEMPERATURE = 14;

    @Option(names = "--server", description = "address; default ${DEFAULT-VALUE}")
    private String server = "http://127.0.0.1:8440";

    @Option(names = "--control-port", required = true, description = "of the stand-ins")
    private int controlPort;

    @Option(names = "--reports", description = "folder the report goes to; default ${DEFAULT-VALUE}")
    private Path folder = Path.of("var/reports");

    @Option(names = "--position", description = "whose job; default one that a family names, or the next of its kind")
    private @Nullable String position;

    @Option(names = "--factor", description = "how fast the gear's time runs meanwhile; default ${DEFAULT-VALUE}")
    private double factor = 60;

    private final PrintStream out = System.out;

    @Override
    public Integer call() throws IOException, InterruptedException {
        String before = control("factor?");
        try (ApiClient api = new ApiClient(server)) {
            control("factor " + factor);
            api.signIn("tavel", "rack-rail-16");
            JsonNode job = job(api);
            if (job == null) {
                out.println((position == null ? "No job is open." : "No job is open at " + position + ".")
                        + " ./juratest start lays new ones when they fall due.");
                return Commands.STOPPED;
            }
            return work(api, job);
        } catch (ApiClient.ProblemException e) {
            out.println("Stopped: " + e.getMessage());
            return Commands.STOPPED;
        } finally {
            control("factor " + before);
        }
    }

    private @Nullable JsonNode job(ApiClient api) {
        List<JsonNode> jobs =
                api.get("/api/jobs?limit=200").path("jobs").valueStream().toList();
        List<JsonNode> examples = FamilyFiles.all("demo/example.json").stream()
                .map(f -> CoreJson.mapper().readTree(f.bytes()))
                .toList();
        Stream<JsonNode> candidates = position == null
                ? examples.stream().flatMap(e -> of(e, jobs))
                : jobs.stream().filter(j -> j.path("position").asString().equals(position));
        return candidates.findFirst().orElse(null);
    }

    /** Jobs like an example: its own first. */
    private static Stream<JsonNode> of(JsonNode example, List<JsonNode> jobs) {
        return jobs.stream()
                .filter(j -> j.path("procedure").equals(example.path("procedure")))
                .sorted(Comparator.comparing(j -> !j.path("position").equals(example.path("position"))));
    }

    private int work(ApiClient api, JsonNode job) throws IOException, InterruptedException {
        out.printf(
                "Job %d: %s, %s %s no. %s, due %s (%s)%n",
                job.path("id").asLong(),
                job.path("position").asString(),
                job.path("maker").asString(),
                job.path("model").asString(),
                job.path("serial").asString(),
                job.path("due").asString(),
                job.path("reason").asString());
        boolean resumed = job.hasNonNull("run");
        String run = resumed
                ? job.path("run").asString()
                : api.post("/api/jobs/" + job.path("id").asLong() + "/run", Map.of("gear", Map.of()), null)
                        .path("id")
                        .asString();
        JsonNode view = api.drive(run);
        out.printf(
                "%s version %d, run %s%s%n",
                view.path("title").asString(), view.path("version").asInt(), run, resumed ? ", resumed" : "");
        if (view.hasNonNull("interrupted")) {
            out.println("Interrupted: " + view.path("interrupted").asString());
            view = api.act(view, "resumed", Map.of());
        }
        view.path("gear")
                .forEach(g -> out.printf(
                        "  %s, calibrated to %s%n",
                        g.path("name").asString(), g.path("calibratedTo").asString("never")));
        int count = view.path("steps").size();
        for (int i = 0; i < count; i++) {
            JsonNode next = view.path("steps").get(i);
            // What a run begins without is asked for by name, and this one asks for nothing.
            view = next.path("inScope").asBoolean() ? step(api, view, next, i + 1) : view;
        }
        view = api.post(
                "/api/runs/" + run + "/finish",
                Map.of(),
                view.path("personEvents").asLong());
        JsonNode judgement = view.path("judgement");
        out.printf(
                "%nRecord %s: %s%s%n",
                view.path("record").asString(),
                word(judgement.path("verdict").asString()),
                judgement.path("complete").asBoolean() ? "" : ", incomplete");
        if (judgement.hasNonNull("firstFailed")) {
            out.printf(
                    "As found first failed: %s%n", judgement.path("firstFailed").asString());
        }
        out.printf(
                "%d events, head %s%n",
                view.path("n").asLong() + 1, view.path("head").asString());
        Path report = folder.resolve(view.path("record").asString().replace('/', '_') + ".pdf");
        Files.createDirectories(folder);
        Files.write(report, api.bytes("/api/records/" + view.path("record").asString() + "/pdf"));
        out.printf(
                "Report %s, to be signed at %s/records/%s%n",
                report, server, view.path("record").asString());
        return 0;
    }

    private JsonNode step(ApiClient api, JsonNode view, JsonNode step, int number)
            throws IOException, InterruptedException {
        String id = step.path("id").asString();
        out.printf("%n%d %s%n", number, step.path("title").asString());
        JsonNode now = api.act(view, "stepBegun", Map.of("step", id));
        now = putBack(api, now, id);
        for (JsonNode confirmation : step.path("confirmations")) {
            if (!confirmation.path("confirmed").asBoolean()) {
                now = api.act(
                        now,
                        "holdReleased",
                        Map.of(
                                "step",
                                id,
                                "confirmation",
                                confirmation.path("id").asString()));
            }
            out.println("  confirmed: " + confirmation.path("text").asString());
        }
        switch (step.path("kind").asString()) {
            case "inspection" -> {
                for (JsonNode point : points(now, id)) {
                    String[] key = point.path("key").asString().split("/");
                    now = api.act(
                            now,
                            "answerGiven",
                            Map.of("step", id, "point", key[1], "lane", key[2], "answer", "inOrder"));
                    out.println("  in order: " + point.path("label").asString());
                }
            }
            case "entry" -> now = enter(api, now, id);
            case "reference", "search", "capture", "measurement" -> now = measure(api, now, id);
            case "derivation" -> points(now, id).forEach(this::print);
            default -> {}
        }
        return now;
    }

    private static List<JsonNode> points(JsonNode view, String step) {
        return view.path("judgement")
                .path("points")
                .valueStream()
                .filter(p -> p.path("key").asString().startsWith(step + "/"))
                .toList();
    }

    /** The last step at which anything is confirmed. */
    private static String last(JsonNode view) {
        return view.path("steps")
                .valueStream()
                .filter(s -> !s.path("confirmations").isEmpty())
                .reduce((a, b) -> b)
                .map(s -> s.path("id").asString())
                .orElse("");
    }

    /** Puts back what must be back before this step, or, at the last one, everything. */
    private JsonNode putBack(ApiClient api, JsonNode view, String before) {
        JsonNode now = view;
        for (JsonNode step : view.path("steps")) {
            for (JsonNode c : step.path("confirmations")) {
                boolean due = before.equals(last(view))
                        || before.equals(c.path("backBefore").asString(""));
                if (due
                        && c.path("confirmed").asBoolean()
                        && c.hasNonNull("back")
                        && !c.path("restored").asBoolean()) {
                    now = api.act(
                            now,
                            "restored",
                            Map.of(
                                    "step",
                                    step.path("id").asString(),
                                    "confirmation",
                                    c.path("id").asString()));
                    out.println("  put back: " + c.path("back").asString());
                }
            }
        }
        return now;
    }

    /** Enters what stand-alone gear shows. */
    private JsonNode enter(ApiClient api, JsonNode view, String step) throws IOException {
        JsonNode now = view;
        JsonNode here = view.path("steps")
                .valueStream()
                .filter(s -> s.path("id").asString().equals(step))
                .findFirst()
                .orElseThrow();
        if (here.path("warm").asBoolean()) {
            now = api.act(
                    view,
                    "conditionEntered",
                    Map.of("what", "equipmentTemperature", "value", Map.of("value", TEMPERATURE, "unit", "Cel")));
            out.printf(Locale.ROOT, "  equipment temperature %.0f °C%n", TEMPERATURE);
        }
        String role = view.path("gear")
                .valueStream()
                .filter(g -> g.path("need").equals(here.path("gear")))
                .map(g -> g.path("role").asString())
                .findFirst()
                .orElse("");
        for (JsonNode point : points(now, step)) {
            if (point.hasNonNull("asFound")) {
                continue;
            }
            String[] key = point.path("key").asString().split("/");
            Unit unit = Unit.of(point.path("unit").asString());
            String label = view.path("asset").path("position").asString() + ":" + key[2];
            double base = Double.parseDouble(control("shows " + role + " " + label + " " + TEMPERATURE));
            double shown = new java.math.BigDecimal(base / unit.factor())
                    .round(new java.math.MathContext(3))
                    .doubleValue();
            now = api.post(
                    "/api/runs/" + now.path("id").asString() + "/entries",
                    Map.of("step", key[0], "point", key[1], "lane", key[2], "value", shown, "unit", unit.code()),
                    now.path("personEvents").asLong());
            print(find(now, point.path("key").asString()));
        }
        return now;
    }

    private JsonNode measure(ApiClient api, JsonNode view, String step) throws IOException, InterruptedException {
        JsonNode now = view;
        List<String> keys =
                points(view, step).stream().map(p -> p.path("key").asString()).toList();
        for (String key : keys) {
            if (!find(now, key).hasNonNull("asFound")) {
                now = attempt(api, now, key);
            }
            if (find(now, key).path("verdict").asString().equals("fail")) {
                now = adjusted(api, now, key);
            }
        }
        for (String key : keys) {
            if (find(now, key).path("limit").path("source").asString().contains(":")) {
                print(find(now, key));
            }
        }
        return now;
    }

    private JsonNode adjusted(ApiClient api, JsonNode view, String key) throws IOException, InterruptedException {
        String what = control("repair " + view.path("asset").path("position").asString() + ":" + key.split("/")[2]);
        out.println("  adjusted: " + what);
        JsonNode now = api.act(view, "adjustmentMade", Map.of("points", List.of(key), "what", what));
        return attempt(api, now, key);
    }

    /** Arms, holds, measures, and waits until the attempt is closed. */
    private JsonNode attempt(ApiClient api, JsonNode view, String key) throws InterruptedException {
        String[] parts = key.split("/");
        String run = view.path("id").asString();
        JsonNode now = api.get("/api/runs/" + run);
        double cooling = now.path("steps")
                .valueStream()
                .filter(s -> s.path("id").asString().equals(parts[0]))
                .mapToDouble(s -> s.path("cooling").asDouble())
                .findFirst()
                .orElse(0);
        if (cooling > 0) {
            out.printf(Locale.ROOT, "  cooling, %.1f s by the clock%n", cooling);
            Thread.sleep((long) (cooling * 1000) + 50);
        }
        JsonNode armed = api.post(
                "/api/runs/" + run + "/arm",
                Map.of("step", parts[0], "lane", parts[2]),
                now.path("personEvents").asLong());
        out.println("  armed: " + armed.path("what").asString());
        String attempt = api.post(
                        "/api/runs/" + run + "/energise",
                        Map.of("token", armed.path("token").asString()),
                        null)
                .path("attempt")
                .asString();
        while (true) {
            Thread.sleep(100);
            now = api.get("/api/runs/" + run);
            JsonNode done = now.path("attempts")
                    .valueStream()
                    .filter(a -> a.path("id").asString().equals(attempt) && a.hasNonNull("outcome"))
                    .findFirst()
                    .orElse(null);
            if (done != null && now.path("output").path("mode").asString().equals("safe")) {
                if (done.path("check").hasNonNull("words")) {
                    out.println("  check: " + done.path("check").path("words").asString());
                }
                if (!done.path("outcome").asString().equals("valid")) {
                    throw new IllegalStateException(
                            "the attempt did not succeed: " + done.path("words").asString());
                }
                print(find(now, key));
                return now;
            }
        }
    }

    private static JsonNode find(JsonNode view, String key) {
        return view.path("judgement")
                .path("points")
                .valueStream()
                .filter(p -> p.path("key").asString().equals(key))
                .findFirst()
                .orElseThrow();
    }

    private void print(JsonNode point) {
        JsonNode value = point.path("counting");
        JsonNode limit = point.path("limit");
        String unit = point.hasNonNull("unit")
                ? Unit.of(point.path("unit").asString()).symbol()
                : "";
        String sign = value.path("qualifier").asString("=");
        out.printf(
                Locale.ROOT,
                "  %-44s %2s %-10s %-14s %s%n",
                point.path("label").asString(),
                sign.equals("=") ? "" : sign,
                figure(value.path("value").asDouble()) + " " + unit,
                word(point.path("verdict").asString()),
                limit(limit, unit, point.path("why").asString("")));
    }

    private static String limit(JsonNode limit, String unit, String why) {
        if (!limit.hasNonNull("low") && !limit.hasNonNull("high")) {
            return why;
        }
        String low = limit.hasNonNull("low") ? figure(limit.path("low").asDouble()) : null;
        String high = limit.hasNonNull("high") ? figure(limit.path("high").asDouble()) : null;
        String span = low == null ? "at most " + high : high == null ? "at least " + low : low + " to " + high;
        return span + " " + unit + " (" + limit.path("source").asString() + ")";
    }

    private static String figure(double value) {
        return new java.math.BigDecimal(value)
                .round(new java.math.MathContext(4))
                .stripTrailingZeros()
                .toPlainString();
    }

    private static String word(String verdict) {
        return switch (verdict) {
            case "pass" -> "pass";
            case "marginalInside" -> "marginal";
            case "marginalOutside" -> "marginal, outside";
            case "fail" -> "FAIL";
            default -> "not judged";
        };
    }

    private String control(String command) throws IOException {
        try (Socket socket = new Socket("127.0.0.1", controlPort);
                BufferedReader in =
                        new BufferedReader(new InputStreamReader(socket.getInputStream(), StandardCharsets.UTF_8))) {
            socket.getOutputStream().write((command + "\n").getBytes(StandardCharsets.UTF_8));
            String answer = in.readLine();
            if (answer == null || answer.startsWith("error")) {
                throw new IOException("the stand-ins refused \"" + command + "\": " + answer);
            }
            return answer;
        } catch (java.net.ConnectException e) {
            throw new IOException("the stand-ins do not answer; start them with ./juratest start", e);
        }
    }
}
