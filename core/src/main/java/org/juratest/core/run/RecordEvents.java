package org.juratest.core.run;

import java.util.Set;
import org.jspecify.annotations.Nullable;

/** Events of a finished run: it is signed, reviewed, corrected. Nothing measured changes any more. */
public final class RecordEvents {

    /** What an amendment may concern beside a test point, a step or gear of the run. */
    private static final Set<String> WHOLE = Set.of("record", "asset", "conditions", "remarks");

    private static final String SUPERVISOR = "supervisor";

    private RecordEvents() {}

    /**
     * Somebody signs that the work was performed as recorded.
     *
     * @param name of the signer, as it was then
     * @param role likewise
     * @param meaning {@value #PERFORMED}
     */
    public record Signed(String person, String name, String role, String meaning) implements EventData {

        public static final String PERFORMED = "performed";

        @Override
        public void check(RunState before) {
            if (!meaning.equals(PERFORMED)) {
                throw new Refusal(
                        "unknown-meaning",
                        "A signature means \"" + PERFORMED + "\"; a review is given as such.",
                        "meaning");
            }
            SignOff.filed(before);
            SignOff now = SignOff.of(before);
            if (now.state() == SignOff.State.SIGNED || now.state() == SignOff.State.REVIEWED) {
                throw new Refusal("already-signed", "This record is already signed, by " + now.performerName() + ".");
            }
            if (!Performers.of(before).contains(person)) {
                throw new Refusal(
                        "not-performer",
                        "Only who worked in this run can sign that it was performed: who measured, entered, "
                                + "inspected, made safe or adjusted.",
                        "person");
            }
        }

        @Override
        public void fold(RunState next, Event event) {
            next.signatures = RunState.added(next.signatures, event);
        }
    }

    /** What a review comes to. */
    public enum Decision {
        /** The record stands. */
        ACCEPTED,
        /** It stands although a required point has no verdict; the reviewer says why. */
        ACCEPTED_INCOMPLETE,
        /** It goes back to who performed the work; the reviewer says why. */
        RETURNED
    }

    /**
     * A supervisor signs what the review came to.
     *
     * @param name of the reviewer, as it was then
     * @param role likewise
     * @param words needed unless plainly accepted
     */
    public record Reviewed(String person, String name, String role, Decision decision, @Nullable String words)
            implements EventData {

        @Override
        public void check(RunState before) {
            SignOff.filed(before);
            SignOff now = SignOff.of(before);
            if (!role.equals(SUPERVISOR)) {
                throw new Refusal("not-reviewer", "A record is reviewed by a supervisor.", "person");
            }
            if (now.state() != SignOff.State.SIGNED) {
                throw new Refusal(
                        now.state() == SignOff.State.REVIEWED ? "already-reviewed" : "not-signed",
                        now.state() == SignOff.State.REVIEWED
                                ? "This record is already reviewed."
                                : "Who performed the work signs first.");
            }
            if (person.equals(now.performer())) {
                throw new Refusal("own-work", "Nobody reviews work they signed themselves.", "person");
            }
            if (decision == Decision.RETURNED) {
                Rules.words(words, "words");
            } else {
                points(before);
            }
        }

        private void points(RunState before) {
            PointJudgement open = SignOff.firstOpen(before);
            if (open != null && decision == Decision.ACCEPTED) {
                throw new Refusal(
                        "point-open",
                        "\"" + open.label() + "\" has no verdict: " + open.why()
                                + ". Return the record, or accept it as incomplete and say why.",
                        open.key().toString());
            }
            if (open == null && decision == Decision.ACCEPTED_INCOMPLETE) {
                throw new Refusal(
                        "not-incomplete",
                        "Every required point of this record has a verdict; accept it as it is.",
                        "decision");
            }
            if (decision == Decision.ACCEPTED_INCOMPLETE) {
                Rules.words(words, "words");
            }
        }

        @Override
        public void fold(RunState next, Event event) {
            next.signatures = RunState.added(next.signatures, event);
        }
    }

    /**
     * A correction to a signed record; the original stays, and no verdict changes. A record that was reviewed waits for
     * review again.
     *
     * @param name of the person, as it was then
     * @param field what it concerns: {@code step/point/lane}, a step, gear, or record, asset, conditions, remarks
     * @param text what it should say
     */
    public record Amended(String person, String name, String field, String text, String reason) implements EventData {

        @Override
        public void check(RunState before) {
            SignOff.filed(before);
            if (SignOff.of(before).performer() == null) {
                throw new Refusal("not-signed", "A record that nobody has signed yet needs no amendment.");
            }
            boolean known = WHOLE.contains(field)
                    || before.procedure().step(field).isPresent()
                    || before.gear().stream().anyMatch(g -> g.id().equals(field))
                    || before.procedure().keys(before.scope()).stream()
                            .anyMatch(k -> k.toString().equals(field));
            if (!known) {
                throw new Refusal("unknown-field", "This record has no \"" + field + "\" to amend.", "field");
            }
            Rules.words(text, "text");
            Rules.words(reason, "reason");
        }

        @Override
        public void fold(RunState next, Event event) {
            next.signatures = RunState.added(next.signatures, event);
        }
    }
}
