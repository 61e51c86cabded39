package org.juratest.server.web;

import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.concurrent.Semaphore;
import java.util.concurrent.TimeUnit;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;
import org.springframework.context.annotation.Configuration;
import org.springframework.web.servlet.HandlerInterceptor;
import org.springframework.web.servlet.config.annotation.InterceptorRegistry;
import org.springframework.web.servlet.config.annotation.WebMvcConfigurer;

/**
 * Lets only so many at a time export, import, print or count over years: each takes a connection and memory for as long
 * as its client takes to read, and beats, stops and everybody else's work must have theirs meanwhile. Who comes too
 * many waits a little and is then asked to come again.
 */
@Configuration(proxyBeanMethods = false)
class HeavyWork implements WebMvcConfigurer, HandlerInterceptor {

    private static final long WAIT_SECONDS = 5;
    private static final String HELD = HeavyWork.class.getName();

    /** Too many at once. */
    static final class TooManyException extends RuntimeException {
        TooManyException(String what) {
            super("Too many are " + what + " at the moment. Nothing is lost; try again in a minute.");
        }
    }

    private record Kind(String what, Semaphore places) {}

    private final Map<Pattern, Kind> kinds = new LinkedHashMap<>();

    HeavyWork() {
        kind("exporting", 3, "GET /api/(records/export/.*|register/export|compliance.*\\.csv|records/.*/(json|csv))");
        kind("importing", 2, "POST /api/register/imports(/[^/]+/(check|store))?");
        kind("printing", 2, "GET /api/.*(/pdf|\\.pdf)");
    }

    private void kind(String what, int places, String requests) {
        kinds.put(Pattern.compile(requests), new Kind(what, new Semaphore(places, true)));
    }

    @Override
    public void addInterceptors(InterceptorRegistry registry) {
        registry.addInterceptor(this);
    }

    private @Nullable Kind kind(HttpServletRequest request) {
        String what = request.getMethod() + " " + request.getRequestURI();
        return kinds.entrySet().stream()
                .filter(e -> e.getKey().matcher(what).matches())
                .map(Map.Entry::getValue)
                .findFirst()
                .orElse(null);
    }

    @Override
    public boolean preHandle(HttpServletRequest request, HttpServletResponse response, Object handler)
            throws InterruptedException {
        Kind kind = kind(request);
        if (kind != null && request.getAttribute(HELD) == null) {
            if (!kind.places.tryAcquire(WAIT_SECONDS, TimeUnit.SECONDS)) {
                throw new TooManyException(kind.what);
            }
            request.setAttribute(HELD, kind);
        }
        return true;
    }

    @Override
    public void afterCompletion(
            HttpServletRequest request, HttpServletResponse response, Object handler, @Nullable Exception e) {
        if (request.getAttribute(HELD) instanceof Kind kind) {
            request.removeAttribute(HELD);
            kind.places.release();
        }
    }
}
