package org.juratest.e2e.bench;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import org.juratest.e2e.Installation;
import org.juratest.e2e.browser.Technician;
import org.juratest.server.command.ApiClient;
import org.openqa.selenium.JavascriptExecutor;

/** How much the pages load at first, and how long a reading takes from the stand-in to the eye. */
final class PageBench {

    private static final String POSITION = "MFR-CBK-07";
    private static final int ROUND_TRIPS = 60;

    private PageBench() {}

    static void run() throws Exception {
        System.out.println("Pages, in headless Chromium on the same machine");
        Path folder = Files.createTempDirectory("juratest-pages");
        try (Installation installation = new Installation(folder, Path.of(""))) {
            installation.startSimulators(100);
            installation.startServer();
            try (Technician it = new Technician(installation.address(), Technician.Hands.MOUSE, 1280, 800)) {
                firstLoad(it);
                readings(it, installation);
            }
        }
    }

    private static String figure(String format, Object... values) {
        return String.format(Locale.ROOT, format, values);
    }

    private static double number(Object value) {
        return ((Number) value).doubleValue();
    }

    /**
     * Everything the first page fetches, and how long until it is loaded, beside fetching the same files without
     * showing them.
     */
    private static void firstLoad(Technician it) {
        it.open("/");
        it.waitFor("the sign-in", t -> t.has("#password"));
        JavascriptExecutor page = it.browser();
        @SuppressWarnings("unchecked")
        Map<String, Object> load = (Map<String, Object>)
                page.executeAsyncScript(
                        """
        const done = arguments[arguments.length - 1];
        const navigation = performance.getEntriesByType('navigation')[0];
        const files = performance.getEntriesByType('resource').filter(r => !r.name.includes('/api/'));
        const bytes = files.reduce((sum, r) => sum + r.transferSize, navigation.transferSize);
        const start = performance.now();
        Promise.all(files.map(r => fetch(r.name, {cache: 'reload'}).then(a => a.arrayBuffer())))
          .then(() => done({bytes, files: files.length + 1, load: navigation.loadEventEnd,
            bare: performance.now() - start}));""");
        Bench.line(
                "first load: over the wire",
                figure("%.0f KiB in %.0f files", number(load.get("bytes")) / 1024, number(load.get("files"))));
        Bench.line(
                "first load: until loaded",
                figure(
                        "%.0f ms, %.1f x fetching the same files again without showing them",
                        number(load.get("load")), number(load.get("load")) / number(load.get("bare"))));
    }

    private static void readings(Technician it, Installation installation) throws Exception {
        ApiClient api = new ApiClient(installation.address());
        api.signIn("tavel", "rack-rail-16");
        String serial = api.roundJobs().stream()
                .filter(j -> j.path("position").asString().equals(POSITION))
                .findFirst()
                .orElseThrow()
                .path("serial")
                .asString();
        it.signIn("tavel", "rack-rail-16");
        it.start(POSITION);
        it.work(
                serial,
                "the injection",
                t -> t.primary().startsWith("Hold to switch on") && t.stage().contains("until it trips"));
        installation.control("factor 1");
        it.hold();
        it.waitFor("half the time to the trip", t -> t.text("[data-elapsed]").matches("1\\d\\.\\d.s"));
        double bare = median(samples(
                it,
                """
        const done = arguments[arguments.length - 1];
        (async () => {
          const times = [];
          for (let i = 0; i < %d; i++) {
            const start = performance.now();
            await fetch('/api/session').then(r => r.arrayBuffer());
            times.push(performance.now() - start);
          }
          done(times);
        })();"""
                        .formatted(ROUND_TRIPS)));
        it.waitFor("the trip", t -> t.has("[data-surround=safe]"));
        List<Double> shown = samples(
                it,
                "arguments[arguments.length - 1](performance.getEntriesByName('reading to pixel').map(m => "
                        + "m.duration));");
        double p95 = shown.get((int) Math.ceil(0.95 * shown.size()) - 1);
        Bench.line(
                "stand-in reading to pixel, " + shown.size() + " readings",
                figure(
                        "p50 %.0f ms, p95 %.0f ms; p50 is %.1f x a bare round trip of %.1f ms",
                        median(shown), p95, median(shown) / bare, bare));
    }

    @SuppressWarnings("unchecked")
    private static List<Double> samples(Technician it, String script) {
        return ((List<Object>) ((JavascriptExecutor) it.browser()).executeAsyncScript(script))
                .stream().map(PageBench::number).sorted().toList();
    }

    private static double median(List<Double> sorted) {
        return sorted.get(sorted.size() / 2);
    }
}
