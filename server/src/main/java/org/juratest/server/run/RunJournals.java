package org.juratest.server.run;

import java.util.List;
import java.util.UUID;
import org.juratest.core.bench.Journal;
import org.juratest.core.run.Actor;
import org.juratest.core.run.EventData;
import org.juratest.core.run.RunState;
import org.juratest.core.trace.Trace;
import org.juratest.formats.trace.TraceBytes;
import org.juratest.formats.wav.Wav;
import org.juratest.server.blob.Blobs;
import org.springframework.stereotype.Component;

/** Where conductors of this process write what happens. */
@Component
class RunJournals {

    private final RunStore store;
    private final Leases leases;
    private final Blobs blobs;

    RunJournals(RunStore store, Leases leases, Blobs blobs) {
        this.store = store;
        this.leases = leases;
        this.blobs = blobs;
    }

    Journal of(UUID run) {
        return new Journal() {
            @Override
            public RunState append(EventData... events) {
                return store.append(run, Actor.process(leases.process()), state -> List.of(events));
            }

            @Override
            public RunState state() {
                return store.state(run);
            }

            @Override
            public String keep(Trace trace) {
                return blobs.keep(TraceBytes.MEDIA_TYPE, TraceBytes.write(trace));
            }

            @Override
            public String keep(byte[] bytes, String mediaType) {
                return blobs.keep(mediaType, bytes);
            }

            @Override
            public String keep(double[] samples, double rate) {
                return blobs.keep(Wav.MEDIA_TYPE, new Wav((int) Math.round(rate), new double[][] {samples}).pcm16());
            }
        };
    }
}
