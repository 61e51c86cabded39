package org.juratest.server.web;

import jakarta.servlet.FilterChain;
import jakarta.servlet.ReadListener;
import jakarta.servlet.ServletException;
import jakarta.servlet.ServletInputStream;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletRequestWrapper;
import jakarta.servlet.http.HttpServletResponse;
import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Map;
import org.springframework.core.Ordered;
import org.springframework.core.annotation.Order;
import org.springframework.stereotype.Component;
import org.springframework.web.filter.OncePerRequestFilter;

/**
 * Refuses bodies that are larger than their address takes, before anything reads them: by what the request says, and
 * where it says nothing as soon as it has sent more.
 */
@Component
@Order(Ordered.HIGHEST_PRECEDENCE)
class BodyLimits extends OncePerRequestFilter {

    private static final int KIBI = 1024;
    private static final int MEBI = 1024 * KIBI;
    /** What any address takes that is not named below. */
    private static final int OTHERWISE = MEBI;
    /** Before anybody has signed in. */
    private static final int SIGN_IN = 4 * KIBI;

    private static final List<Map.Entry<String, Integer>> BY_PREFIX = List.of(
            Map.entry("/api/session", SIGN_IN),
            Map.entry("/api/blobs", 16 * MEBI),
            Map.entry("/api/attachments", 32 * MEBI),
            Map.entry("/api/intakes", 48 * MEBI),
            Map.entry("/api/register/imports", 64 * MEBI),
            Map.entry("/api/procedures", 4 * MEBI),
            Map.entry("/api/curves", 16 * MEBI));

    /** The body was larger than its address takes. */
    static final class TooLargeException extends IOException {
        TooLargeException(long limit) {
            super(words(limit));
        }
    }

    private static String words(long limit) {
        return "What was sent is larger than this address takes, "
                + (limit >= MEBI ? limit / MEBI + " MiB" : limit / KIBI + " KiB") + ". Nothing of it was kept.";
    }

    private static int limit(HttpServletRequest request) {
        String path = request.getRequestURI();
        return BY_PREFIX.stream()
                .filter(e -> path.startsWith(e.getKey()))
                .map(Map.Entry::getValue)
                .findFirst()
                .orElse(OTHERWISE);
    }

    @Override
    protected void doFilterInternal(HttpServletRequest request, HttpServletResponse response, FilterChain chain)
            throws ServletException, IOException {
        int limit = limit(request);
        if (request.getContentLengthLong() > limit) {
            refuse(response, limit);
            return;
        }
        try {
            chain.doFilter(request.getContentLengthLong() >= 0 ? request : new Limited(request, limit), response);
        } catch (TooLargeException e) {
            refuse(response, limit);
        }
    }

    private static void refuse(HttpServletResponse response, int limit) throws IOException {
        if (response.isCommitted()) {
            return;
        }
        response.reset();
        // What was not read is not waited for.
        response.setHeader("Connection", "close");
        response.setStatus(HttpServletResponse.SC_REQUEST_ENTITY_TOO_LARGE);
        response.setContentType("application/problem+json");
        response.getOutputStream()
                .write(("{\"type\":\"/problems/too-large\",\"title\":\"too large\",\"status\":413,\"detail\":\""
                                + words(limit) + "\",\"field\":\"body\"}")
                        .getBytes(StandardCharsets.UTF_8));
    }

    /** A request that does not say how long its body is. */
    private static final class Limited extends HttpServletRequestWrapper {
        private final int limit;

        Limited(HttpServletRequest request, int limit) {
            super(request);
            this.limit = limit;
        }

        @Override
        public ServletInputStream getInputStream() throws IOException {
            return new Counted(super.getInputStream(), limit);
        }

        @Override
        public BufferedReader getReader() throws IOException {
            return new BufferedReader(new InputStreamReader(getInputStream(), StandardCharsets.UTF_8));
        }
    }

    private static final class Counted extends ServletInputStream {
        private final ServletInputStream in;
        private final long limit;
        private long read;

        Counted(ServletInputStream in, long limit) {
            this.in = in;
            this.limit = limit;
        }

        private int counted(int count) throws IOException {
            read += Math.max(0, count);
            if (read > limit) {
                throw new TooLargeException(limit);
            }
            return count;
        }

        @Override
        public int read() throws IOException {
            int value = in.read();
            counted(value < 0 ? 0 : 1);
            return value;
        }

        @Override
        public int read(byte[] bytes, int offset, int length) throws IOException {
            return counted(in.read(bytes, offset, length));
        }

        @Override
        public boolean isFinished() {
            return in.isFinished();
        }

        @Override
        public boolean isReady() {
            return in.isReady();
        }

        @Override
        public void setReadListener(ReadListener listener) {
            in.setReadListener(listener);
        }
    }
}
