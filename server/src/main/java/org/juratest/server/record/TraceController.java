package org.juratest.server.record;

import java.util.Arrays;
import java.util.List;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;
import org.juratest.core.run.Refusal;
import org.juratest.core.trace.Trace;
import org.juratest.server.blob.Blobs;
import org.juratest.server.web.NotFoundException;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** Captured traces, one or several over each other. */
@RestController
class TraceController {

    private static final int MOST = 16;

    private final Blobs blobs;

    TraceController(Blobs blobs) {
        this.blobs = blobs;
    }

    /**
     * Traces on one axis, each counted from where it begins.
     *
     * @param xUnit symbol
     * @param yUnit symbol
     * @param lines in the order they were asked for
     * @param difference the first less the second, where both have a value; absent where only one was asked for
     */
    record TracesView(String name, String xUnit, String yUnit, List<Line> lines, @Nullable Line difference) {}

    /** Places, ascending, and values; equally many. */
    record Line(List<Double> x, List<Double> y) {}

    /** @param blob SHA-256 of each; at most 16, of one unit */
    @GetMapping("/api/traces")
    TracesView over(@RequestParam List<String> blob) {
        if (blob.isEmpty() || blob.size() > MOST) {
            throw new Refusal(
                    "out-of-range",
                    "One to " + MOST + " traces are laid over each other, not " + blob.size() + ".",
                    "blob");
        }
        List<Trace> traces = blob.stream()
                .map(b -> blobs.trace(b).orElseThrow(() -> new NotFoundException("trace", b)))
                .toList();
        Trace first = traces.get(0);
        if (!traces.stream()
                .allMatch(t -> t.xUnit().equals(first.xUnit()) && t.yUnit().equals(first.yUnit()))) {
            throw new Refusal("wrong-unit", "Only traces of one unit are laid over each other.", "blob");
        }
        return new TracesView(
                first.name(),
                first.xUnit().symbol(),
                first.yUnit().symbol(),
                traces.stream().map(t -> line(t.x(), t.y())).toList(),
                traces.size() < 2 ? null : line(first.x(), first.minus(traces.get(1))));
    }

    private static Line line(double[] x, double[] y) {
        int[] known =
                IntStream.range(0, y.length).filter(i -> !Double.isNaN(y[i])).toArray();
        return new Line(
                Arrays.stream(known).mapToObj(i -> x[i]).toList(),
                Arrays.stream(known).mapToObj(i -> y[i]).toList());
    }
}
