package org.juratest.core.family.fibre;

import java.time.Duration;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import org.juratest.core.method.Announced;
import org.juratest.core.method.Method;
import org.juratest.core.method.MethodBench;
import org.juratest.core.procedure.MethodSpec;
import org.juratest.core.procedure.Step;
import org.juratest.core.quantity.Unit;
import org.juratest.core.run.Attempt;
import org.juratest.core.run.AttemptEvents;
import org.juratest.core.run.OutputEvents;
import org.juratest.core.run.RunState;

/**
 * The end face of a fibre, by camera: point {@code zones}, how many of its zones have marks that the table does not
 * allow; {@code largest}, the largest defect on core and cladding, um. A picture that shows too little is no
 * measurement.
 */
final class EndFaceMethod implements Method {

    private static final Duration POLL = Duration.ofMillis(20);

    @Override
    public MethodSpec spec() {
        return MethodSpec.named("fibre.endface")
                .ports("fibre-camera")
                .param("farEnd", Unit.ONE, 0, 1, 0)
                .point("zones", Unit.ONE)
                .point("largest", Unit.MICROMETRE)
                .captures("End face")
                .build();
    }

    @Override
    public Announced announce(RunState state, Step step, String lane, String where) {
        return new Announced("Takes a picture of the end face of " + where, Map.of(), List.of(), Set.of(), 30);
    }

    @Override
    public Result run(MethodBench bench) {
        FaceCamera camera = bench.port(FaceCamera.class);
        camera.direction(Shots.isFar(bench.step()));
        camera.begin();
        while (!camera.isDone()) {
            bench.stop().pause(POLL);
        }
        FaceCamera.Seen seen = camera.seen();
        EndFaceTable table = table(bench.state().opened().asset().nameplate().texts());
        EndFace face;
        try {
            face = EndFace.of(seen.picture(), seen.scale(), table);
        } catch (EndFace.NoFaceException e) {
            return failed(String.valueOf(e.getMessage()));
        }
        bench.capture(
                AttemptEvents.CaptureKind.PICTURE, "End face", seen.file(), seen.mediaType(), facts(face, seen, table));
        if (face.verdict() == EndFace.Verdict.NOT_JUDGED) {
            return failed(String.valueOf(face.reason()));
        }
        bench.connectionChecked(true, "the end face is sharp and in the middle", Map.of());
        long failing = face.zones().stream()
                .filter(z -> z.verdict() == EndFace.Verdict.FAIL)
                .count();
        bench.keep(bench.value("zones", failing, Unit.ONE).typeB(0, 1));
        if (bench.step().points().stream().anyMatch(p -> p.id().equals("largest"))) {
            double largest = face.zones().stream()
                    .filter(z -> z.name().compareTo("C") < 0)
                    .flatMap(z -> z.defects().stream())
                    .mapToDouble(EndFace.Finding::size)
                    .max()
                    .orElse(0);
            bench.keep(bench.value("largest", largest, Unit.MICROMETRE).within(seen.scale()));
        }
        return Shots.valid(
                face.verdict() == EndFace.Verdict.PASS ? "clean" : String.valueOf(face.reason()) + ": clean it");
    }

    private static Result failed(String words) {
        return new Result(Attempt.Outcome.CONNECTION_FAILED, OutputEvents.OffReason.DONE, words);
    }

    /** The table for what the plate says the fibre and its connectors are. */
    static EndFaceTable table(Map<String, String> plate) {
        if (plate.getOrDefault("kind", "").equals("multimode")) {
            return EndFaceTable.multimode();
        }
        return plate.getOrDefault("connectors", "").toLowerCase(Locale.ROOT).contains("angled")
                ? EndFaceTable.angled()
                : EndFaceTable.singleMode();
    }

    /** What is drawn over the picture: zones as rings, findings as boxes, in shares of its width. */
    private static Map<String, String> facts(EndFace face, FaceCamera.Seen seen, EndFaceTable table) {
        double width = seen.picture().width();
        Map<String, String> facts = new LinkedHashMap<>();
        facts.put("width", String.valueOf(seen.picture().width()));
        facts.put("height", String.valueOf(seen.picture().height()));
        facts.put("scale", String.format(Locale.ROOT, "%.4g um a pixel", seen.scale()));
        facts.put("table", table.edition());
        facts.put("verdict", face.verdict().name().toLowerCase(Locale.ROOT).replace('_', ' '));
        for (EndFaceTable.Zone z : table.zones()) {
            facts.put(
                    "#ring " + z.name(),
                    String.format(
                            Locale.ROOT,
                            "%.5f %.5f %.5f",
                            face.x() / width,
                            face.y() / width,
                            z.to() / 2 / seen.scale() / width));
        }
        int n = 0;
        for (EndFace.Zone z : face.zones()) {
            for (EndFace.Finding f : z.defects()) {
                facts.put("#box " + ++n, box(seen, z, f, "defect"));
            }
            for (EndFace.Finding f : z.scratches()) {
                facts.put("#box " + ++n, box(seen, z, f, "scratch"));
            }
        }
        return facts;
    }

    /** The box that a mark lies in, whether its zone fails, and what it is. */
    private static String box(FaceCamera.Seen seen, EndFace.Zone zone, EndFace.Finding f, String kind) {
        int w = seen.picture().width();
        int left = w;
        int right = 0;
        int top = Integer.MAX_VALUE;
        int bottom = 0;
        for (int p : f.pixels()) {
            left = Math.min(left, p % w);
            right = Math.max(right, p % w);
            top = Math.min(top, p / w);
            bottom = Math.max(bottom, p / w);
        }
        return String.format(
                Locale.ROOT,
                "%.5f %.5f %.5f %.5f %s %s %.1f um",
                left / (double) w,
                top / (double) w,
                (right + 1) / (double) w,
                (bottom + 1) / (double) w,
                zone.verdict() == EndFace.Verdict.FAIL ? "bad" : "free",
                kind,
                f.size());
    }
}
