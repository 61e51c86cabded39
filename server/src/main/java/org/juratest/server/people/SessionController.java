package org.juratest.server.people;

import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import jakarta.servlet.http.HttpSession;
import java.security.Principal;
import org.springframework.http.HttpStatus;
import org.springframework.security.authentication.AuthenticationManager;
import org.springframework.security.authentication.UsernamePasswordAuthenticationToken;
import org.springframework.security.core.Authentication;
import org.springframework.security.core.context.SecurityContext;
import org.springframework.security.core.context.SecurityContextHolder;
import org.springframework.security.web.context.SecurityContextRepository;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PostMapping;
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

  SessionController(AuthenticationManager authentication, SecurityContextRepository contexts, People people) {
    this.authentication = authentication;
    this.contexts = contexts;
    this.people = people;
  }

  /** Name and password of a sign-in. */
  record SignIn(String person, String password) {
  }

  @PostMapping
  Person signIn(@RequestBody SignIn signIn, HttpServletRequest request, HttpServletResponse response) {
    Authentication signedIn = authentication.authenticate(
        UsernamePasswordAuthenticationToken.unauthenticated(signIn.person(), signIn.password()));
    // A fresh id, so that nobody can plant a session and wait for someone to sign in on it.
    request.getSession();
    request.changeSessionId();
    SecurityContext context = SecurityContextHolder.createEmptyContext();
    context.setAuthentication(signedIn);
    SecurityContextHolder.setContext(context);
    contexts.saveContext(context, request, response);
    return people.byId(signedIn.getName());
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
