package org.juratest.server.people;

import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpSession;
import java.security.Principal;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.juratest.server.web.PreconditionException;
import org.springframework.http.HttpStatus;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PatchMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestHeader;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/** Accounts, where they are signed in, what their roles may, and who changed what of them. */
@RestController
@RequestMapping("/api")
class PeopleController {

    private final Accounts accounts;
    private final Sessions sessions;
    private final ChangeLog log;

    PeopleController(Accounts accounts, Sessions sessions, ChangeLog log) {
        this.accounts = accounts;
        this.sessions = sessions;
        this.log = log;
    }

    /** A row of the table of rights, as it is shown. */
    record RightView(String what, List<String> roles, @Nullable String only, List<String> requests) {}

    @GetMapping("/rights")
    List<RightView> rights() {
        return Rights.all().stream()
                .map(r -> new RightView(
                        r.what(),
                        r.roles().stream().sorted().map(Role::toString).toList(),
                        r.only(),
                        r.requests()))
                .toList();
    }

    @GetMapping("/people")
    List<Accounts.Account> all() {
        return accounts.all();
    }

    @PostMapping("/people")
    @ResponseStatus(HttpStatus.CREATED)
    Accounts.OneTimePassword add(@RequestBody Accounts.NewAccount given, Principal by) {
        return accounts.add(given, by.getName());
    }

    @PatchMapping("/people/{id}")
    Accounts.Account change(
            @PathVariable String id,
            @RequestBody Accounts.AccountChange given,
            @RequestHeader(name = "If-Match", required = false) @Nullable String ifMatch,
            Principal by) {
        return accounts.change(id, given, (int) PreconditionException.expected(ifMatch), by.getName());
    }

    @PostMapping("/people/{id}/password")
    Accounts.OneTimePassword reset(@PathVariable String id, Principal by) {
        return accounts.reset(id, by.getName());
    }

    @GetMapping("/people/changes")
    List<ChangeLog.Change> changes() {
        return log.newest();
    }

    @GetMapping("/people/{id}/sessions")
    List<Sessions.SessionView> sessions(@PathVariable String id, HttpServletRequest request) {
        return sessions.of(id, own(request));
    }

    @DeleteMapping("/people/{id}/sessions/{session}")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    void end(@PathVariable String id, @PathVariable String session, Principal by) {
        sessions.end(id, session);
        log.note(by.getName(), "session", id, "signed out");
    }

    @GetMapping("/session/others")
    List<Sessions.SessionView> own(Principal who, HttpServletRequest request) {
        return sessions.of(who.getName(), own(request));
    }

    @DeleteMapping("/session/others/{id}")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    void endOwn(@PathVariable String id, Principal who) {
        sessions.end(who.getName(), id);
    }

    static @Nullable String own(HttpServletRequest request) {
        HttpSession session = request.getSession(false);
        return session == null ? null : session.getId();
    }
}
