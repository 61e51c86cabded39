package org.juratest.server.web;

import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.util.Map;
import java.util.function.Function;
import org.juratest.formats.json.CoreJson;
import org.springframework.http.HttpHeaders;
import org.springframework.http.MediaType;
import org.springframework.stereotype.Component;

/**
 * Long work that tells how far it is: server-sent events {@code progress}, then {@code result} or {@code problem}. Who
 * goes away has cancelled it.
 */
@Component
public class Working {

    private static final long EVERY_NANOS = 150_000_000L;

    private final Problems problems;

    Working(Problems problems) {
        this.problems = problems;
    }

    /** Works, and answers with what came of it. */
    public void tell(HttpServletResponse response, Function<Progress, ?> work) throws IOException {
        response.setContentType(MediaType.TEXT_EVENT_STREAM_VALUE);
        response.setHeader(HttpHeaders.CACHE_CONTROL, "no-store");
        OutputStream out = response.getOutputStream();
        long[] last = {System.nanoTime() - EVERY_NANOS};
        try {
            Object result = work.apply((phase, done, total) -> {
                long now = System.nanoTime();
                if (now - last[0] >= EVERY_NANOS) {
                    last[0] = now;
                    try {
                        send(out, "progress", Map.of("phase", phase, "done", done, "total", total));
                    } catch (IOException e) {
                        throw new Progress.CancelledException(e);
                    }
                }
            });
            send(out, "result", result);
        } catch (Progress.CancelledException e) {
            // Nobody is there to be told. The transaction is rolled back by now.
            return;
        } catch (RuntimeException e) {
            send(out, "problem", problems.of(e));
        }
    }

    private static void send(OutputStream out, String event, Object data) throws IOException {
        out.write(("event: " + event + "\ndata: " + CoreJson.mapper().writeValueAsString(data) + "\n\n")
                .getBytes(StandardCharsets.UTF_8));
        out.flush();
    }
}
