package org.juratest.simulators.family.meters;

import java.util.SplittableRandom;
import org.jspecify.annotations.Nullable;
import org.juratest.simulators.StandInLog;
import org.juratest.simulators.family.meters.Installations.Transformer;
import org.juratest.simulators.scpi.ScpiCommands;
import org.juratest.simulators.scpi.Watched;

/** Injects a current into what hangs on a transformer, and measures the voltage it takes. */
final class BurdenSource extends Watched {

    private static final double OPEN_AFTER = 0.2;

    private final Site site;
    private final SplittableRandom random = new SplittableRandom(101);
    private double set = 0.5;
    private double timeLimit = 3;
    private double startedAt;
    private double elapsed;
    private double scatter = 1;
    private @Nullable Transformer on;

    BurdenSource(String serial, Site site, StandInLog log) {
        super("burden-set", "Brennach,BS-1," + serial + ",1.4", log);
        this.site = site;
        commands()
                .command("SOURce:CURRent", a -> set = ScpiCommands.number(a, 0, 10))
                .query("SOURce:CURRent", () -> ScpiCommands.nr3(set))
                .command("SOURce:TIME:LIMit", a -> timeLimit = ScpiCommands.number(a, 0.1, 600))
                .query("FETCh", this::fetch);
    }

    @Override
    protected void started() {
        on = site.transformer(label());
        startedAt = time();
        elapsed = 0;
        scatter = 1 + 0.003 * (random.nextDouble() - 0.5);
    }

    @Override
    protected void running() {
        double now = time() - startedAt;
        if (on == null && now >= OPEN_AFTER) {
            elapsed = now;
            off("OPEN");
        } else if (now >= timeLimit) {
            elapsed = timeLimit;
            off("LIMIT");
        }
    }

    @Override
    protected void ended() {
        if (elapsed == 0) {
            elapsed = time() - startedAt;
        }
    }

    private String fetch() {
        Transformer at = on;
        double after = isOn() ? time() - startedAt : elapsed;
        double current = at == null ? 0 : set;
        return (isOn() ? "1," : "0,") + ScpiCommands.nr3(after) + ","
                + ScpiCommands.nr3(at == null ? 0 : current * at.loadOhms() * scatter) + ","
                + ScpiCommands.nr3(current) + "," + ScpiCommands.nr3(at == null ? 0 : at.loadDegrees()) + ","
                + (isOn() ? "ON" : reason());
    }

    @Override
    protected String settings() {
        return " " + ScpiCommands.nr3(set) + " A";
    }
}
