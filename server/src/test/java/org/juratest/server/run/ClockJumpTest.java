package org.juratest.server.run;

import static org.awaitility.Awaitility.await;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertNotNull;
import static org.junit.jupiter.api.Assertions.assertNull;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.util.List;
import java.util.Map;
import java.util.concurrent.atomic.AtomicLong;
import java.util.concurrent.atomic.AtomicReference;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.juratest.server.TestServer;
import org.juratest.server.command.ApiClient;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;
import org.springframework.context.annotation.Primary;
import tools.jackson.databind.JsonNode;

/** Whatever is done to the server's clock: outputs do not care, events stay in order, and the run says so. */
@Tag("alone")
class ClockJumpTest {

    private static final AtomicReference<Duration> SET = new AtomicReference<>(Duration.ZERO);
    private static TestServer server;

    /** A clock that is set while it runs. */
    @Configuration
    static class SetClock {
        @Bean
        @Primary
        Clock setClock() {
            return new Clock() {
                @Override
                public ZoneId getZone() {
                    return ZoneId.of("UTC");
                }

                @Override
                public Clock withZone(ZoneId zone) {
                    return Clock.fixed(instant(), zone);
                }

                @Override
                public Instant instant() {
                    return Instant.now().plus(SET.get());
                }
            };
        }
    }

    @BeforeAll
    static void start() {
        server = TestServer.start(SetClock.class);
    }

    @AfterAll
    static void stop() {
        server.close();
    }

    @ParameterizedTest
    @CsvSource({"MFR-CBK-07,1,on by 1 h", "MFR-CBK-08,-1,back by 1 h"})
    void whatWasArmedBeforeTheClockWasSetIsEnergisedAfterAndTheRunSaysSo(String position, int hours, String words)
            throws InterruptedException {
        SET.set(Duration.ZERO);
        try (ApiClient api = server.client("tavel", "rack-rail-16")) {
            energised(api, position, hours, words);
        }
    }

    private static void energised(ApiClient api, String position, int hours, String words) throws InterruptedException {
        JsonNode job = api.get("/api/jobs")
                .path("jobs")
                .valueStream()
                .filter(j -> j.path("position").asString().equals(position))
                .findFirst()
                .orElseThrow();
        JsonNode view =
                api.drive(api.post("/api/jobs/" + job.path("id").asLong() + "/run", Map.of("gear", Map.of()), null)
                        .path("id")
                        .asString());
        for (JsonNode step : view.path("steps")) {
            for (JsonNode confirmation :
                    step.path("inScope").asBoolean() ? step.path("confirmations") : List.<JsonNode>of()) {
                view = api.act(
                        view,
                        "holdReleased",
                        Map.of(
                                "step",
                                step.path("id").asString(),
                                "confirmation",
                                confirmation.path("id").asString()));
            }
        }
        String path = "/api/runs/" + view.path("id").asString();
        JsonNode armed = api.post(
                path + "/arm",
                Map.of("step", "contact", "lane", "A"),
                view.path("personEvents").asLong());
        SET.set(Duration.ofHours(hours));
        api.post(path + "/energise", Map.of("token", armed.path("token").asString()), null);
        JsonNode now = await().atMost(Duration.ofMinutes(2))
                .until(() -> api.get(path), v -> v.at("/attempts/0").hasNonNull("outcome"));
        // Nobody listens where the gear should be; what matters is that it was asked, and not refused for its time.
        assertTrue(
                now.at("/attempts/0/words").asString().contains("nothing listens"),
                now.path("attempts").toString());

        JsonNode events = api.get(path + "/events?after=-1");
        Instant last = Instant.MIN;
        for (JsonNode event : events) {
            Instant at = Instant.parse(event.path("at").asString());
            assertFalse(at.isBefore(last), "time ran back at " + event);
            last = at;
        }
        List<String> notes = events.valueStream()
                .filter(e -> e.path("type").asString().equals("note"))
                .map(e -> e.at("/data/text").asString())
                .toList();
        assertEquals(1, notes.stream().filter(n -> n.contains(words)).count(), notes.toString());
    }

    @Test
    void aClockThatIsOnlyKeptRightIsNoJump() {
        AtomicReference<Instant> wall = new AtomicReference<>(Instant.parse("2026-11-27T08:00:00Z"));
        AtomicLong steady = new AtomicLong(Long.MAX_VALUE - 500_000_000L);
        ClockWatch watch = new ClockWatch(
                new Clock() {
                    @Override
                    public ZoneId getZone() {
                        return ZoneId.of("UTC");
                    }

                    @Override
                    public Clock withZone(ZoneId zone) {
                        return this;
                    }

                    @Override
                    public Instant instant() {
                        return wall.get();
                    }
                },
                steady::get);
        for (int i = 0; i < 100; i++) {
            // A monotonic clock may pass the largest number there is, and a clock that is kept right runs a little
            // faster or slower.
            steady.addAndGet(1_000_000_000L);
            wall.set(wall.get().plusMillis(1000 + (i % 3 - 1) * 300));
            assertNull(watch.look());
        }
        wall.set(wall.get().minusSeconds(90));
        ClockWatch.Jump jump = watch.look();
        assertNotNull(jump);
        assertTrue(jump.words().contains("back by 1 min 30 s"), jump.words());
        assertEquals(jump, watch.look(), "told once more, it is the same jump");
    }
}
