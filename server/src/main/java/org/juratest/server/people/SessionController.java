package org.juratest.server.people;

import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import jakarta.servlet.http.HttpSession;
import java.security.Principal;
import org.jspecify.annotations.Nullable;
import org.juratest.core.run.Refusal;
import org.springframework.http.HttpStatus;
import org.springframework.security.authentication.AuthenticationManager;
import org.springframework.security.authentication.UsernamePasswordAuthenticationToken;
import org.springframework.security.core.Authentication;
import org.springframework.security.core.AuthenticationException;
import org.springframework.security.core.context.SecurityContext;
import org.springframework.security.core.context.SecurityContextHolder;
import org.springframework.security.web.context.SecurityContextRepository;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/** Signing in and out. */
@RestController
@RequestMapping("/api/session")
class SessionController {

    private final AuthenticationManager authentication;
    private final SecurityContextRepository contexts;
    private final People people;
    private final Accounts accounts;
    private final ProofBrake brake;

    SessionController(
            AuthenticationManager authentication,
            SecurityContextRepository contexts,
            People people,
            Accounts accounts,
            ProofBrake brake) {
        this.authentication = authentication;
        this.contexts = contexts;
        this.people = people;
        this.accounts = accounts;
        this.brake = brake;
    }

    /** Name and password of a sign-in. */
    record SignIn(String person, String password) {}

    /** The password somebody has, and the one they want. */
    record PasswordChange(String now, String next) {}

    @PostMapping
    Person signIn(@RequestBody SignIn signIn, HttpServletRequest request, HttpServletResponse response) {
        brake.check(signIn.person(), request.getRemoteAddr());
        Authentication signedIn;
        try {
            signedIn = authentication.authenticate(
                    UsernamePasswordAuthenticationToken.unauthenticated(signIn.person(), signIn.password()));
        } catch (AuthenticationException e) {
            brake.failed(signIn.person(), request.getRemoteAddr());
            throw e;
        }
        brake.proved(signedIn.getName(), request.getRemoteAddr());
        // A fresh id, so that nobody can plant a session and wait for someone to sign in on it.
        HttpSession session = request.getSession();
        request.changeSessionId();
        session.setAttribute(Sessions.ADDRESS, request.getRemoteAddr());
        session.setAttribute(Sessions.PROGRAM, shortened(request.getHeader("User-Agent")));
        SecurityContext context = SecurityContextHolder.createEmptyContext();
        context.setAuthentication(signedIn);
        SecurityContextHolder.setContext(context);
        contexts.saveContext(context, request, response);
        return people.byId(signedIn.getName());
    }

    private static String shortened(@Nullable String text) {
        return text == null
                ? ""
                : text.replaceAll("[^\\x20-\\x7e]", "")
                        .substring(
                                0,
                                Math.min(
                                        160,
                                        text.replaceAll("[^\\x20-\\x7e]", "").length()));
    }

    @PutMapping("/password")
    Person changePassword(@RequestBody PasswordChange change, Principal principal, HttpServletRequest request) {
        brake.check(principal.getName(), request.getRemoteAddr());
        try {
            accounts.ownPassword(principal.getName(), change.now(), change.next(), PeopleController.own(request));
        } catch (Refusal e) {
            brake.failed(principal.getName(), request.getRemoteAddr());
            throw e;
        }
        return people.byId(principal.getName());
    }

    @GetMapping
    Person signedIn(Principal principal) {
        return people.byId(principal.getName());
    }

    @DeleteMapping
    @ResponseStatus(HttpStatus.NO_CONTENT)
    void signOut(HttpServletRequest request) {
        HttpSession session = request.getSession(false);
        if (session != null) {
            session.invalidate();
        }
        SecurityContextHolder.clearContext();
    }
}
