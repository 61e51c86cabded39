package org.juratest.server.run;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.IOException;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.concurrent.ConcurrentLinkedQueue;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.concurrent.atomic.AtomicInteger;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.juratest.server.TestServer;
import org.juratest.server.command.ApiClient;
import org.juratest.server.command.ApiClient.ProblemException;
import tools.jackson.databind.JsonNode;

/**
 * What keeps an output on shares nothing with what others do: the lease of a driving screen never lapses beside them.
 */
@Tag("alone")
class SafetyPathTest {

    private static final int ROWS = 50_000;

    /** A request that is made and whose answer nobody reads. */
    private static Socket unread(TestServer server, String path, String cookies) throws IOException {
        Socket socket = new Socket("127.0.0.1", server.port());
        socket.setReceiveBufferSize(4096);
        socket.getOutputStream()
                .write(("GET " + path + " HTTP/1.1\r\nHost: 127.0.0.1\r\nCookie: " + cookies + "\r\n\r\n")
                        .getBytes(StandardCharsets.US_ASCII));
        return socket;
    }

    private static byte[] sheet() {
        StringBuilder sheet =
                new StringBuilder("site,site.name,site.km,position,position.title,asset,class,maker,model,serial,since,"
                        + "plate.poles,plate.ratedCurrent,plate.ratedVoltage,plate.longTimeSetting\n");
        for (int i = 0; i < ROWS; i++) {
            sheet.append(String.format(
                    Locale.ROOT,
                    "S%03d,Site " + "%d,%.1f,S%03d-CBK-%03d,Feeder,S-%06d,"
                            + "lv-breaker,Orvex,M160,S-%05d,2024-03-01,3,160,400,100%n",
                    i % 200,
                    i % 200,
                    i % 200 * 0.5,
                    i % 200,
                    i / 200 + 1,
                    i,
                    i));
        }
        return sheet.toString().getBytes(StandardCharsets.UTF_8);
    }

    @Test
    void beatsHoldWhateverElseTheServerIsAskedFor() throws Exception {
        List<Socket> stuck = new ArrayList<>();
        ExecutorService others = Executors.newCachedThreadPool();
        try (TestServer server = TestServer.start();
                ApiClient tavel = server.client("tavel", "rack-rail-16");
                ApiClient oster = server.client("oster", "penstock-42");
                // Before the server is asked to end: it waits a minute for those who do not read.
                java.io.Closeable reading = () -> {
                    for (Socket socket : stuck) {
                        socket.close();
                    }
                }) {
            JsonNode job = tavel.get("/api/jobs")
                    .path("jobs")
                    .valueStream()
                    .filter(j -> j.path("position").asString().equals("MFR-CBK-07"))
                    .findFirst()
                    .orElseThrow();
            String run = tavel.post("/api/jobs/" + job.path("id").asLong() + "/run", Map.of("gear", Map.of()), null)
                    .path("id")
                    .asString();
            tavel.drive(run);
            List<String> records = tavel.get("/api/records?limit=40")
                    .path("records")
                    .valueStream()
                    .map(r -> r.path("number").asString())
                    .toList();
            AtomicBoolean over = new AtomicBoolean();
            AtomicInteger looked = new AtomicInteger();
            ConcurrentLinkedQueue<String> lapsed = new ConcurrentLinkedQueue<>();
            CountDownLatch watching = new CountDownLatch(1);
            Future<?> watch = others.submit(() -> {
                while (!over.get()) {
                    String until = server.database()
                            .template()
                            .queryForObject(
                                    "SELECT CASE WHEN until < now() THEN (now() - until)::text ELSE '' END FROM "
                                            + "run_lease WHERE run = ?::uuid",
                                    String.class,
                                    run);
                    looked.incrementAndGet();
                    watching.countDown();
                    if (until != null && !until.isEmpty()) {
                        lapsed.add(until);
                    }
                    try {
                        Thread.sleep(50);
                    } catch (InterruptedException e) {
                        Thread.currentThread().interrupt();
                    }
                }
            });
            watching.await();
            for (int i = 0; i < 4; i++) {
                stuck.add(unread(server, "/api/records/export/json", oster.cookies()));
            }
            for (int i = 0; i < 20; i++) {
                stuck.add(unread(
                        server,
                        i % 2 == 0 ? "/api/runs/" + run + "/stream?after=-1" : "/api/plan/news",
                        oster.cookies()));
            }
            AtomicInteger wrong = new AtomicInteger();
            for (int i = 0; i < 20; i++) {
                others.submit(() -> {
                    try {
                        server.client("oster", "guess").close();
                    } catch (ProblemException e) {
                        wrong.incrementAndGet();
                    }
                });
            }
            AtomicInteger printed = new AtomicInteger();
            Future<?> prints = others.submit(() -> records.forEach(r -> {
                if (oster.bytes("/api/records/" + r + "/pdf").length > 10_000) {
                    printed.incrementAndGet();
                }
            }));
            Future<?> notes = others.submit(() -> {
                for (int i = 0; !over.get() && i < 300; i++) {
                    JsonNode now = oster.get("/api/runs/" + run);
                    try {
                        tavel.act(now, "note", Map.of("text", "note " + i + " " + "x".repeat(300)));
                    } catch (ProblemException e) {
                        assertEquals(412, e.status(), e.getMessage());
                    }
                }
            });
            String table = "/api/register/imports/"
                    + oster.post("/api/register/imports?name=valley.csv", sheet(), null)
                            .path("id")
                            .asString();
            JsonNode checked = oster.told(table + "/check", p -> {});
            assertEquals(0, checked.path("problems").size(), checked.toString());
            oster.told(table + "/store", p -> {});
            prints.get(5, TimeUnit.MINUTES);
            over.set(true);
            notes.get(1, TimeUnit.MINUTES);
            watch.get();
            assertEquals(List.of(), List.copyOf(lapsed), "the lease of the driving screen lapsed, by");
            assertTrue(
                    looked.get() > 50 && printed.get() == records.size() && !records.isEmpty() && wrong.get() == 20,
                    looked + " looks, " + printed + " printed, " + wrong + " guesses refused");
            assertEquals(
                    ROWS,
                    server.database()
                            .template()
                            .queryForObject("SELECT count(*) FROM asset WHERE id LIKE 'S-%'", Integer.class));
            assertTrue(
                    oster.get("/api/runs/" + run).path("n").asLong() > 10,
                    "nothing was told to those who did not read");
        } finally {
            others.shutdownNow();
        }
    }
}
