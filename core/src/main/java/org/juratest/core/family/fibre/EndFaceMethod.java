package org.juratest.core.family.fibre;

import java.time.Duration;
import java.util.List;
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
import org.juratest.core.run.RunEvents;
import org.juratest.core.run.RunState;
import org.juratest.core.standard.StandardTable;

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
                .table(EndFaceTable.GROUP)
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
        EndFaceTable table = table(bench.state().opened());
        EndFace face;
        try {
            face = EndFace.of(seen.picture(), seen.scale(), table);
        } catch (EndFace.NoFaceException e) {
            return failed(String.valueOf(e.getMessage()));
        }
        bench.capture(
                AttemptEvents.CaptureKind.PICTURE,
                "End face",
                seen.file(),
                seen.mediaType(),
                FaceFacts.of(face, seen.picture(), seen.scale(), table));
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

    /** The table the run was opened with; in runs that have none, the one that ships for such a plate. */
    static EndFaceTable table(RunEvents.Opened opened) {
        StandardTable own = opened.table(EndFaceTable.GROUP);
        return EndFaceTable.of(
                own != null
                        ? own
                        : StandardTable.choose(
                                        EndFaceTable.shipped(),
                                        EndFaceTable.GROUP,
                                        opened.asset().nameplate().texts())
                                .orElseThrow());
    }
}
