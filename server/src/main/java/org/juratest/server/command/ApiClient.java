package org.juratest.server.command;

import java.io.IOException;
import java.net.CookieManager;
import java.net.HttpCookie;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.time.Duration;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.UUID;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import java.util.function.Consumer;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import org.juratest.formats.json.CoreJson;
import tools.jackson.databind.JsonNode;

/**
 * A client of the server's REST interface that acts as one screen. After {@link #drive} it beats twice a second, as a
 * page does; closing it, or the end of its process, ends the beats.
 */
public final class ApiClient implements AutoCloseable {

    private static final long CONFIRMATIONS_APART_MILLIS = 320;
    private static final Duration TIMEOUT = Duration.ofSeconds(30);
    /** For what takes its time: a report, an export. */
    private static final Duration LONG = Duration.ofMinutes(10);

    private final URI base;
    private final CookieManager cookies = new CookieManager();
    private final HttpClient http = HttpClient.newBuilder()
            .cookieHandler(cookies)
            .connectTimeout(TIMEOUT)
            .build();
    private final String screen;
    private @Nullable ScheduledExecutorService beats;
    /** Why the last beat was lost; empty where it was not. Of the beating thread. */
    private String lost = "";

    private volatile @Nullable String driven;
    private long confirmedAt = System.nanoTime() / 1_000_000 - CONFIRMATIONS_APART_MILLIS;

    /** @param base such as {@code http://127.0.0.1:8440} */
    public ApiClient(String base) {
        this(base, UUID.randomUUID().toString());
    }

    /** @param screen id of the screen it acts as */
    public ApiClient(String base, String screen) {
        this.base = URI.create(base);
        this.screen = screen;
    }

    /** Id of the screen it acts as: a secret. */
    public String screen() {
        return screen;
    }

    /** The server said no: its problem detail. */
    public static final class ProblemException extends RuntimeException {
        private final int status;
        private final transient JsonNode problem;

        ProblemException(int status, JsonNode problem) {
            super(problem.path("detail").asString("the server answered " + status));
            this.status = status;
            this.problem = problem;
        }

        public int status() {
            return status;
        }

        /** The part of the type after {@code /problems/}. */
        public String type() {
            return problem.path("type").asString("").replace("/problems/", "");
        }

        /** What is wrong, field by field; empty where the problem is not of fields. */
        public Map<String, String> fields() {
            Map<String, String> fields = new LinkedHashMap<>();
            problem.path("problems")
                    .forEach(p -> fields.put(
                            p.path("field").asString(""), p.path("what").asString("")));
            return fields;
        }

        public String field() {
            return problem.path("field").asString("");
        }
    }

    public void signIn(String person, String password) {
        get("/api/status");
        post("/api/session", Map.of("person", person, "password", password), null);
    }

    public JsonNode get(String path) {
        return send(request(path).GET().build());
    }

    /**
     * Posts JSON.
     *
     * @param personEvents for {@code If-Match}; absent for none
     */
    public JsonNode post(String path, Object body, @Nullable Long personEvents) {
        HttpRequest.Builder request = request(path)
                .header("Content-Type", "application/json")
                .header("Juratest-Screen", screen)
                .POST(HttpRequest.BodyPublishers.ofByteArray(
                        body instanceof byte[] raw ? raw : CoreJson.mapper().writeValueAsBytes(body)));
        if (personEvents != null) {
            request.header("If-Match", "\"" + personEvents + "\"");
        }
        return send(request.build());
    }

    /** What is still to be done of one's own day, in the order of the visit. */
    public List<JsonNode> roundJobs() {
        return get("/api/round")
                .path("stops")
                .valueStream()
                .flatMap(s -> s.path("jobs").valueStream())
                .filter(j -> !j.path("status").asString().equals("done"))
                .toList();
    }

    /** Posts JSON or bytes where the answer may take its time. */
    public JsonNode postPatiently(String path, Object body) {
        return send(request(path)
                .timeout(LONG)
                .header("Content-Type", "application/json")
                .POST(HttpRequest.BodyPublishers.ofByteArray(
                        body instanceof byte[] raw ? raw : CoreJson.mapper().writeValueAsBytes(body)))
                .build());
    }

    /** Puts JSON in place of what is there. */
    public JsonNode put(String path, Object body) {
        return send(request(path)
                .header("Content-Type", "application/json")
                .PUT(HttpRequest.BodyPublishers.ofByteArray(CoreJson.mapper().writeValueAsBytes(body)))
                .build());
    }

    /**
     * Puts JSON in place of what is there.
     *
     * @param seen for {@code If-Match}
     */
    public JsonNode put(String path, Object body, long seen) {
        return send(request(path)
                .header("Content-Type", "application/json")
                .header("If-Match", "\"" + seen + "\"")
                .PUT(HttpRequest.BodyPublishers.ofByteArray(CoreJson.mapper().writeValueAsBytes(body)))
                .build());
    }

    /** Changes values of what is there. */
    public JsonNode patch(String path, Object body) {
        return send(request(path)
                .header("Content-Type", "application/json")
                .method(
                        "PATCH",
                        HttpRequest.BodyPublishers.ofByteArray(CoreJson.mapper().writeValueAsBytes(body)))
                .build());
    }

    /**
     * Changes values of what is there.
     *
     * @param seen for {@code If-Match}
     */
    public JsonNode patch(String path, Object body, long seen) {
        return send(request(path)
                .header("Content-Type", "application/json")
                .header("If-Match", "\"" + seen + "\"")
                .method(
                        "PATCH",
                        HttpRequest.BodyPublishers.ofByteArray(CoreJson.mapper().writeValueAsBytes(body)))
                .build());
    }

    public JsonNode delete(String path) {
        return send(request(path).DELETE().build());
    }

    /**
     * Asks for something that takes its time and tells how far it is (server-sent events); gives what it ends with.
     *
     * @throws ProblemException if it ends with a problem
     */
    public JsonNode told(String path, Consumer<JsonNode> progress) {
        HttpResponse<Stream<String>> response = exchange(
                request(path)
                        .timeout(LONG)
                        .POST(HttpRequest.BodyPublishers.noBody())
                        .build(),
                HttpResponse.BodyHandlers.ofLines());
        String event = "";
        try (Stream<String> lines = response.body()) {
            for (String line : (Iterable<String>) lines::iterator) {
                if (line.startsWith("event: ")) {
                    event = line.substring("event: ".length());
                } else if (line.startsWith("data: ")) {
                    JsonNode data = CoreJson.mapper().readTree(line.substring("data: ".length()));
                    switch (event) {
                        case "progress" -> progress.accept(data);
                        case "problem" ->
                            throw new ProblemException(data.path("status").asInt(), data);
                        default -> {
                            return data;
                        }
                    }
                } else if (response.statusCode() >= 400) {
                    throw new ProblemException(
                            response.statusCode(), CoreJson.mapper().readTree(line));
                }
            }
        }
        throw new IllegalStateException("the server at " + base + " broke off");
    }

    /** Follows what an address tells (server-sent events) until the first of a name; gives what that says. */
    public JsonNode heard(String path, String name) {
        HttpResponse<Stream<String>> response =
                exchange(request(path).timeout(LONG).GET().build(), HttpResponse.BodyHandlers.ofLines());
        String event = "";
        try (Stream<String> lines = response.body()) {
            for (String line : (Iterable<String>) lines::iterator) {
                if (line.startsWith("event:")) {
                    event = line.substring("event:".length()).strip();
                } else if (line.startsWith("data:") && event.equals(name)) {
                    return CoreJson.mapper().readTree(line.substring("data:".length()));
                }
            }
        }
        throw new IllegalStateException("the server at " + base + " broke off");
    }

    /** What an address gives, as it is. */
    public byte[] bytes(String path) {
        HttpResponse<byte[]> response =
                exchange(request(path).timeout(LONG).GET().build(), HttpResponse.BodyHandlers.ofByteArray());
        if (response.statusCode() >= 400) {
            throw new ProblemException(response.statusCode(), CoreJson.mapper().readTree(response.body()));
        }
        return response.body();
    }

    /** What shows the server who is signed in, for a request made by other means. */
    public String cookies() {
        return cookies.getCookieStore().getCookies().stream()
                .map(c -> c.getName() + "=" + c.getValue())
                .collect(java.util.stream.Collectors.joining("; "));
    }

    private HttpRequest.Builder request(String path) {
        HttpRequest.Builder request = HttpRequest.newBuilder(base.resolve(path)).timeout(TIMEOUT);
        cookies.getCookieStore().getCookies().stream()
                .filter(c -> c.getName().equals("XSRF-TOKEN"))
                .map(HttpCookie::getValue)
                .findFirst()
                .ifPresent(token -> request.header("X-XSRF-TOKEN", token));
        return request;
    }

    private JsonNode send(HttpRequest request) {
        HttpResponse<String> response = exchange(request, HttpResponse.BodyHandlers.ofString());
        String body = response.body();
        JsonNode json = body.isBlank()
                ? CoreJson.mapper().createObjectNode()
                : CoreJson.mapper().readTree(body);
        if (response.statusCode() >= 400) {
            throw new ProblemException(response.statusCode(), json);
        }
        return json;
    }

    private <T> HttpResponse<T> exchange(HttpRequest request, HttpResponse.BodyHandler<T> handler) {
        try {
            return http.send(request, handler);
        } catch (IOException e) {
            throw new java.io.UncheckedIOException("the server at " + base + " does not answer", e);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw new IllegalStateException("interrupted", e);
        }
    }

    /** Takes a run and beats for it from now on, and for no other any more. */
    public JsonNode drive(String run) {
        JsonNode view = post("/api/runs/" + run + "/screen", Map.of("screen", screen), null);
        driven = run;
        if (beats == null) {
            beats = Executors.newSingleThreadScheduledExecutor(r -> {
                Thread thread = new Thread(r, "beats");
                thread.setDaemon(true);
                return thread;
            });
            beats.scheduleAtFixedRate(this::beat, 0, 500, TimeUnit.MILLISECONDS);
        }
        return view;
    }

    private void beat() {
        try {
            post("/api/runs/" + driven + "/beat", Map.of("screen", screen), null);
            lost = "";
        } catch (RuntimeException e) {
            // A lost beat is what the lease is for; the next one follows in half a second, and is told if it says else.
            String why = String.valueOf(e.getMessage());
            if (!why.equals(lost)) {
                System.err.println("beat lost: " + why);
            }
            lost = why;
        }
    }

    /** Stops beating, as a page that died does. */
    public void fallSilent() {
        if (beats != null) {
            beats.shutdownNow();
        }
    }

    /** Appends an event by a person to the state the client has just read. */
    public JsonNode act(JsonNode view, String type, Map<String, ?> data) {
        if (type.equals("holdReleased")) {
            deliberately();
        }
        try {
            return post(
                    "/api/runs/" + view.path("id").asString() + "/events",
                    Map.of("type", type, "data", data),
                    view.path("personEvents").asLong());
        } finally {
            // From the answer on: how long the server took does not count as reading.
            confirmedAt = type.equals("holdReleased") ? System.nanoTime() / 1_000_000 : confirmedAt;
        }
    }

    /**
     * Confirmations that make safe are given one by one, not at a stroke; the server would refuse what comes sooner.
     */
    private void deliberately() {
        long wait = confirmedAt + CONFIRMATIONS_APART_MILLIS - System.nanoTime() / 1_000_000;
        try {
            Thread.sleep(Math.max(0, Math.min(wait, CONFIRMATIONS_APART_MILLIS)));
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
    }

    @Override
    public void close() {
        fallSilent();
    }
}
