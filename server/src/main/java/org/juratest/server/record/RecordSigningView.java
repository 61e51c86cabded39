package org.juratest.server.record;

import java.util.List;
import org.juratest.core.run.Event;
import org.juratest.core.run.EventData;
import org.juratest.core.run.RecordEvents;
import org.juratest.core.run.RunState;
import org.juratest.core.run.SignOff;

/** Signatures, reviews and amendments in words. */
final class RecordSigningView {

    private RecordSigningView() {}

    static RecordView.RecordSigning of(RunState run) {
        SignOff now = SignOff.of(run);
        List<RecordView.RecordEntry> entries =
                run.signatures().stream().map(e -> entry(run, e)).toList();
        return new RecordView.RecordSigning(now.state(), now.returned(), entries);
    }

    private static RecordView.RecordEntry entry(RunState run, Event event) {
        EventData data = event.data();
        if (data instanceof RecordEvents.Signed signed) {
            return new RecordView.RecordEntry(
                    signed.meaning(), signed.name(), signed.role(), event.at(), null, null, null);
        }
        if (data instanceof RecordEvents.Reviewed reviewed) {
            String meaning =
                    switch (reviewed.decision()) {
                        case ACCEPTED -> "reviewed";
                        case ACCEPTED_INCOMPLETE -> "reviewed, accepted as incomplete";
                        case RETURNED -> "returned";
                    };
            return new RecordView.RecordEntry(
                    meaning, reviewed.name(), reviewed.role(), event.at(), null, reviewed.words(), null);
        }
        RecordEvents.Amended amended = (RecordEvents.Amended) data;
        return new RecordView.RecordEntry(
                "amended",
                amended.name(),
                null,
                event.at(),
                concerns(run, amended.field()),
                amended.text(),
                amended.reason());
    }

    /** What an amendment concerns, in words. */
    private static String concerns(RunState run, String field) {
        return run.finished().judgement().points().stream()
                .filter(p -> p.key().toString().equals(field))
                .map(p -> p.label())
                .findFirst()
                .or(() -> run.procedure().step(field).map(s -> s.title()))
                .or(() -> run.gear().stream()
                        .filter(g -> g.id().equals(field))
                        .map(g -> g.name())
                        .findFirst())
                .orElse(field.equals("record") ? "the whole record" : field);
    }
}
