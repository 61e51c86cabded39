package org.juratest.server.people;

import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;
import org.springframework.http.HttpMethod;
import org.springframework.security.access.AccessDeniedException;
import org.springframework.security.authentication.AuthenticationManager;
import org.springframework.security.authentication.ProviderManager;
import org.springframework.security.authentication.dao.DaoAuthenticationProvider;
import org.springframework.security.authorization.AuthorizationDeniedException;
import org.springframework.security.config.annotation.web.builders.HttpSecurity;
import org.springframework.security.crypto.factory.PasswordEncoderFactories;
import org.springframework.security.crypto.password.PasswordEncoder;
import org.springframework.security.web.SecurityFilterChain;
import org.springframework.security.web.context.HttpSessionSecurityContextRepository;
import org.springframework.security.web.context.SecurityContextRepository;
import org.springframework.security.web.header.writers.ReferrerPolicyHeaderWriter;
import org.springframework.session.jdbc.config.annotation.web.http.EnableJdbcHttpSession;

/** Who may do what: everybody may see the first page and the status, everything else wants a sign-in. */
@Configuration(proxyBeanMethods = false)
@EnableJdbcHttpSession(maxInactiveIntervalInSeconds = 12 * 3600)
class SecurityConfiguration {

    @Bean
    PasswordEncoder passwordEncoder() {
        return new BoundedPasswords(PasswordEncoderFactories.createDelegatingPasswordEncoder());
    }

    @Bean
    AuthenticationManager authenticationManager(People people, PasswordEncoder encoder) {
        DaoAuthenticationProvider provider = new DaoAuthenticationProvider(people);
        provider.setPasswordEncoder(encoder);
        return new ProviderManager(provider);
    }

    @Bean
    SecurityContextRepository securityContextRepository() {
        return new HttpSessionSecurityContextRepository();
    }

    @Bean
    SecurityFilterChain api(HttpSecurity http, SecurityContextRepository contexts, RightsCheck rights)
            throws Exception {
        return http.authorizeHttpRequests(r -> r.requestMatchers(HttpMethod.POST, "/api/session")
                        .permitAll()
                        .requestMatchers("/api/status", "/api/openapi/**")
                        .permitAll()
                        .requestMatchers("/api/**")
                        .access(rights)
                        .anyRequest()
                        .permitAll())
                .csrf(csrf -> csrf.spa())
                .securityContext(c -> c.securityContextRepository(contexts))
                .logout(l -> l.disable())
                .formLogin(f -> f.disable())
                .httpBasic(b -> b.disable())
                .requestCache(c -> c.disable())
                .headers(h -> h.contentSecurityPolicy(p -> p.policyDirectives(
                                "default-src 'self'; img-src 'self' data: blob:; media-src 'self' blob:; "
                                        + "style-src 'self' 'unsafe-inline'; object-src 'none'; base-uri "
                                        + "'none'; form-action 'self'; frame-ancestors 'none'"))
                        .referrerPolicy(r -> r.policy(ReferrerPolicyHeaderWriter.ReferrerPolicy.SAME_ORIGIN))
                        .permissionsPolicyHeader(p -> p.policy("geolocation=(), microphone=(), payment=()")))
                .exceptionHandling(e -> e.authenticationEntryPoint(
                                (request, response, why) -> problem(response, 401, "not-signed-in", "Sign in first."))
                        .accessDeniedHandler((request, response, why) -> denied(response, why)))
                .build();
    }

    private static void denied(HttpServletResponse response, AccessDeniedException why) throws IOException {
        if (why instanceof AuthorizationDeniedException refused
                && refused.getAuthorizationResult() instanceof RightsCheck.Denied denied) {
            problem(response, denied.status(), denied.type(), denied.words());
        } else {
            problem(response, 403, "not-allowed", "This is not allowed: the request lacks the token of its session.");
        }
    }

    private static void problem(HttpServletResponse response, int status, String type, String detail)
            throws IOException {
        response.setStatus(status);
        response.setContentType("application/problem+json");
        response.getOutputStream()
                .write(("{\"type\":\"/problems/" + type + "\",\"title\":\"" + type.replace('-', ' ') + "\",\"status\":"
                                + status + ",\"detail\":\"" + detail + "\"}")
                        .getBytes(StandardCharsets.UTF_8));
    }
}
