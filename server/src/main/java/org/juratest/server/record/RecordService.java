package org.juratest.server.record;

import java.util.List;
import java.util.UUID;
import org.jspecify.annotations.Nullable;
import org.juratest.core.run.Actor;
import org.juratest.core.run.EventData;
import org.juratest.core.run.RecordEvents;
import org.juratest.core.run.Refusal;
import org.juratest.core.run.RunState;
import org.juratest.server.people.People;
import org.juratest.server.people.Person;
import org.juratest.server.people.ProofBrake;
import org.juratest.server.run.RunStore;
import org.juratest.server.web.PreconditionException;
import org.springframework.security.crypto.password.PasswordEncoder;
import org.springframework.stereotype.Service;

/** Signing, reviewing and amending: acts of a person who proves with the password that it is they. */
@Service
class RecordService {

    private final RunStore store;
    private final People people;
    private final PasswordEncoder passwords;
    private final ProofBrake brake;

    RecordService(RunStore store, People people, PasswordEncoder passwords, ProofBrake brake) {
        this.store = store;
        this.people = people;
        this.passwords = passwords;
        this.brake = brake;
    }

    /** Who acts from where, what they last saw, and the password they entered again. */
    record Act(String person, @Nullable String password, long personEvents, String address) {}

    /** What signing that the work was performed would add. */
    EventData signature(String person) {
        Person who = people.byId(person);
        return new RecordEvents.Signed(who.id(), who.name(), who.role(), RecordEvents.Signed.PERFORMED);
    }

    RunState sign(UUID run, Act act) {
        return append(run, act, signature(act.person));
    }

    /** What a review would add. */
    EventData review(String person, RecordEvents.Decision decision, @Nullable String words) {
        Person who = people.byId(person);
        return new RecordEvents.Reviewed(
                who.id(), who.name(), who.role(), decision, words == null || words.isBlank() ? null : words.strip());
    }

    RunState review(UUID run, Act act, RecordEvents.Decision decision, @Nullable String words) {
        return append(run, act, review(act.person, decision, words));
    }

    RunState amend(UUID run, Act act, String field, String text, String reason) {
        return append(
                run,
                act,
                new RecordEvents.Amended(
                        act.person, people.byId(act.person).name(), field, text.strip(), reason.strip()));
    }

    private RunState append(UUID run, Act act, EventData data) {
        proved(act);
        return store.append(run, Actor.person(act.person), state -> {
            if (state.personEvents() != act.personEvents) {
                throw PreconditionException.stale(act.personEvents, state.personEvents());
            }
            data.check(state);
            return List.of(data);
        });
    }

    private void proved(Act act) {
        if (act.password == null || act.password.isEmpty()) {
            throw new Refusal("password-missing", "Enter your password again; it stands for your hand.", "password");
        }
        brake.check(act.person, act.address);
        if (!passwords.matches(
                act.password, people.loadUserByUsername(act.person).getPassword())) {
            brake.failed(act.person, act.address);
            throw new Refusal("wrong-password", "This is not your password. Nothing was signed.", "password");
        }
        brake.proved(act.person, act.address);
    }
}
