package org.juratest.core.family.fibre;

import java.time.Duration;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import org.juratest.core.method.Announced;
import org.juratest.core.method.Method;
import org.juratest.core.method.MethodBench;
import org.juratest.core.procedure.MethodSpec;
import org.juratest.core.procedure.Step;
import org.juratest.core.quantity.Quantity;
import org.juratest.core.quantity.Unit;
import org.juratest.core.run.Attempt;
import org.juratest.core.run.AttemptEvents;
import org.juratest.core.run.OutputEvents;
import org.juratest.core.run.Refusal;
import org.juratest.core.run.RunState;

/**
 * The end faces of a multi-fibre ferrule, by camera: a row {@code face} for each fibre that carries light, keyed by its
 * number, with {@code zones}, how many of its zones have marks that the table does not allow, and {@code largest}, its
 * largest defect, um. Points: how many faces {@code failing}. Before the shot counts, the picture has to be sharp; with
 * {@code judge} 0 it is kept as it is, and nothing is judged.
 */
final class ArrayFaceMethod implements Method {

    /** The edge of a fibre that is sharp enough is spread over no more than this, um. */
    private static final double SHARP = 3;
    /** How long somebody may turn the focus, s of the gear's time. */
    private static final double FOCUSING = 30;
    /** That many looks in a row have to be sharp: a hand may still be turning it. */
    private static final int STEADY = 2;

    /** And that many looks there are at least, however slowly pictures come. */
    private static final int LOOKS = 8;

    private static final Duration POLL = Duration.ofMillis(40);
    private static final String FACE = "face";

    @Override
    public MethodSpec spec() {
        Map<String, Unit> columns = new LinkedHashMap<>();
        columns.put("zones", Unit.ONE);
        columns.put("largest", Unit.MICROMETRE);
        return MethodSpec.named("fibre.arrayface")
                .ports("array-camera")
                .param("farEnd", Unit.ONE, 0, 1, 0)
                .param("judge", Unit.ONE, 0, 1, 1)
                .point("failing", Unit.ONE)
                .feature(FACE, Unit.ONE, columns)
                .captures("End faces")
                .table(EndFaceTable.GROUP)
                .build();
    }

    private static ArrayLayout layout(RunState state) {
        try {
            ArrayLayout layout = CableLines.layout(state.opened().asset().nameplate());
            if (layout != null) {
                return layout;
            }
        } catch (IllegalArgumentException e) {
            throw new Refusal(
                    "plate-unfit",
                    "The nameplate does not say how the fibres lie: " + e.getMessage() + ".",
                    "nameplate.layout");
        }
        throw new Refusal("plate-unfit", "The nameplate has no layout of the fibres.", "nameplate.layout");
    }

    @Override
    public Announced announce(RunState state, Step step, String lane, String where) {
        ArrayLayout layout = layout(state);
        return new Announced(
                String.format(
                        Locale.ROOT,
                        "Takes a picture of %d end faces, %s%s",
                        layout.live().cardinality(),
                        where,
                        Shots.isFar(step) ? ", far end" : ""),
                Map.of(),
                List.of(),
                Set.of(),
                60);
    }

    @Override
    public Result run(MethodBench bench) {
        ArrayCamera camera = bench.port(ArrayCamera.class);
        ArrayLayout layout = layout(bench.state());
        camera.direction(Shots.isFar(bench.step()));
        String unsharp = sharpened(bench, camera);
        if (unsharp != null) {
            return failed(unsharp);
        }
        camera.begin();
        while (!camera.isDone()) {
            bench.stop().pause(POLL);
        }
        ArrayCamera.Seen seen = camera.seen();
        GreyPicture picture;
        try {
            picture = JoinedPicture.of(seen.pieces(), seen.scale());
        } catch (IllegalArgumentException e) {
            return failed(String.valueOf(e.getMessage()));
        }
        byte[] file = seen.pieces().size() == 1 ? seen.pieces().get(0).file() : camera.file(picture);
        if (bench.param("judge") < 0.5) {
            Map<String, String> facts = new LinkedHashMap<>();
            facts.put("scale", String.format(Locale.ROOT, "%.4g um a pixel", seen.scale()));
            bench.capture(AttemptEvents.CaptureKind.PICTURE, "End faces", file, "image/png", facts);
            return Shots.valid("kept as seen, not judged");
        }
        EndFaceTable table = EndFaceMethod.table(bench.state().opened());
        FaceArray found;
        try {
            found = FaceArray.of(picture, seen.scale(), layout, table);
        } catch (EndFace.NoFaceException e) {
            return failed(String.valueOf(e.getMessage()));
        }
        bench.capture(
                AttemptEvents.CaptureKind.PICTURE,
                "End faces",
                file,
                "image/png",
                FaceFacts.of(found, picture, seen.scale(), table));
        for (FaceArray.Face f : found.faces()) {
            if (f.verdict() == EndFace.Verdict.NOT_JUDGED) {
                return failed("fibre " + f.number() + ": " + f.reason());
            }
        }
        bench.connectionChecked(true, "all end faces are sharp and in the picture", Map.of());
        long failing = found.faces().stream()
                .filter(f -> f.verdict() == EndFace.Verdict.FAIL)
                .count();
        bench.keep(bench.value("failing", failing, Unit.ONE).typeB(0, 1));
        found.faces().forEach(f -> row(bench, f, seen.scale()));
        return Shots.valid(
                failing == 0 ? "all clean" : failing + " of " + found.faces().size() + " not clean");
    }

    private static void row(MethodBench bench, FaceArray.Face f, double scale) {
        EndFace face = java.util.Objects.requireNonNull(f.face());
        Map<String, String> points = bench.found(FACE, new Quantity(f.number(), Unit.ONE), f.reason());
        String zones = points.get("zones");
        if (zones != null) {
            long bad = face.zones().stream()
                    .filter(z -> z.verdict() == EndFace.Verdict.FAIL)
                    .count();
            bench.keep(bench.value(zones, bad, Unit.ONE).typeB(0, 1));
        }
        String largest = points.get("largest");
        if (largest != null) {
            double size = face.zones().stream()
                    .flatMap(z -> z.defects().stream())
                    .mapToDouble(EndFace.Finding::size)
                    .max()
                    .orElse(0);
            bench.keep(bench.value(largest, size, Unit.MICROMETRE).within(scale));
        }
    }

    /** Waits until what the camera sees is sharp, and tells how sharp it is; why not, where it never is. */
    private static @Nullable String sharpened(MethodBench bench, ArrayCamera camera) {
        long begun = System.nanoTime();
        int steady = 0;
        int looks = 0;
        double edge = Double.POSITIVE_INFINITY;
        do {
            looks++;
            camera.look();
            while (camera.isLooking()) {
                bench.stop().pause(POLL);
            }
            ArrayCamera.Seen look = camera.preview();
            FaceCircle circle = look.pieces().isEmpty()
                    ? null
                    : FaceCircle.find(look.pieces().get(0).picture(), look.scale());
            edge = circle == null ? Double.POSITIVE_INFINITY : circle.edge();
            steady = edge <= SHARP ? steady + 1 : 0;
            if (circle != null) {
                Map<String, Quantity> told = new LinkedHashMap<>();
                told.put("edge of the fibre", new Quantity(edge, Unit.MICROMETRE));
                told.put("at most", new Quantity(SHARP, Unit.MICROMETRE));
                bench.progress(told);
            }
            bench.stop().pause(POLL);
        } while (steady < STEADY
                && (looks < LOOKS || (System.nanoTime() - begun) / 1e9 * camera.timeFactor() < FOCUSING));
        return steady >= STEADY
                ? null
                : Double.isInfinite(edge)
                        ? "no fibre is sharp enough to be seen: turn the focus, and put the camera on straight"
                        : String.format(
                                Locale.ROOT,
                                "not sharp: the edge of a fibre is spread over %.1f um, at most %.0f. Turn the focus",
                                edge,
                                SHARP);
    }

    private static Result failed(String words) {
        return new Result(Attempt.Outcome.CONNECTION_FAILED, OutputEvents.OffReason.DONE, words);
    }
}
