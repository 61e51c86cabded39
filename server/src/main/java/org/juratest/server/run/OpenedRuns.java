package org.juratest.server.run;

import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.UUID;
import org.juratest.core.limit.Envelope;
import org.juratest.core.method.Methods;
import org.juratest.core.procedure.Procedure;
import org.juratest.core.procedure.ProcedureResolver;
import org.juratest.core.procedure.UnfitDeviceException;
import org.juratest.core.run.Actor;
import org.juratest.core.run.AssetFacts;
import org.juratest.core.run.Consequences;
import org.juratest.core.run.Event;
import org.juratest.core.run.GearFacts;
import org.juratest.core.run.PriorReading;
import org.juratest.core.run.Refusal;
import org.juratest.core.run.RunEvents;
import org.juratest.core.run.RunState;
import org.juratest.core.standard.StandardTable;
import org.juratest.server.Juratest;
import org.juratest.server.curve.Curves;
import org.juratest.server.procedure.Procedures;
import org.juratest.server.standard.StandardTables;
import org.springframework.stereotype.Component;

/**
 * Makes the first event of a run: the procedure fitted to the device, its curve, and the limits known before any
 * reading.
 */
@Component
public class OpenedRuns {

    private final Curves curves;
    private final StandardTables tables;

    OpenedRuns(Curves curves, StandardTables tables) {
        this.curves = curves;
        this.tables = tables;
    }

    /** The first event for these facts. */
    public RunEvents.Opened opened(
            String job,
            String reason,
            Procedures.Version version,
            AssetFacts asset,
            List<GearFacts> gear,
            List<PriorReading> priors,
            String zone) {
        Envelope envelope = curves.curveOf(asset);
        Procedure resolved;
        try {
            resolved = ProcedureResolver.resolve(version.procedure(), asset.nameplate(), envelope);
        } catch (UnfitDeviceException e) {
            throw new Refusal("procedure-does-not-fit", String.valueOf(e.getMessage()), "procedure");
        }
        Map<String, StandardTable> judgedBy =
                Methods.tablesFor(tables::inUse, resolved, asset.nameplate().texts());
        RunEvents.Opened bare = new RunEvents.Opened(
                job,
                reason,
                version.hash(),
                resolved,
                asset,
                gear,
                priors,
                envelope,
                Map.of(),
                Juratest.VERSION,
                zone,
                judgedBy);
        UUID nobody = new UUID(0, 0);
        RunState state = RunState.EMPTY.after(
                new Event(nobody, nobody, 0, null, Instant.EPOCH, Actor.process("open"), "open", bare));
        return new RunEvents.Opened(
                job,
                reason,
                version.hash(),
                resolved,
                asset,
                gear,
                priors,
                envelope,
                Consequences.limitsAtStart(state),
                Juratest.VERSION,
                zone,
                judgedBy);
    }
}
