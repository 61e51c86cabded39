package org.juratest.server.web;

import jakarta.servlet.FilterChain;
import jakarta.servlet.ServletException;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.charset.CharacterCodingException;
import java.nio.charset.StandardCharsets;
import org.jspecify.annotations.Nullable;
import org.springframework.core.Ordered;
import org.springframework.core.annotation.Order;
import org.springframework.stereotype.Component;
import org.springframework.web.filter.OncePerRequestFilter;

/**
 * Refuses addresses with what no text can hold: NUL, and bytes that are not UTF-8 (half characters among them), naming
 * where.
 */
@Component
@Order(Ordered.HIGHEST_PRECEDENCE + 1)
class AddressCheck extends OncePerRequestFilter {

    @Override
    protected void doFilterInternal(HttpServletRequest request, HttpServletResponse response, FilterChain chain)
            throws ServletException, IOException {
        String field = fault(request);
        if (field == null) {
            chain.doFilter(request, response);
            return;
        }
        response.setStatus(HttpServletResponse.SC_BAD_REQUEST);
        response.setContentType("application/problem+json");
        String what = field.equals("address") ? "The address" : "The value of \\\"" + field + "\\\" in the address";
        response.getOutputStream()
                .write(("{\"type\":\"/problems/cannot-be-read\",\"title\":\"cannot be "
                                + "read\",\"status\":400,\"detail\":\""
                                + what + " holds NUL or bytes that are no character in UTF-8.\",\"field\":\""
                                + field + "\"}")
                        .getBytes(StandardCharsets.UTF_8));
    }

    private static @Nullable String fault(HttpServletRequest request) {
        if (!readable(request.getRequestURI())) {
            return "address";
        }
        if (request.getQueryString() != null) {
            for (String part : request.getQueryString().split("&", -1)) {
                String name = part.contains("=") ? part.substring(0, part.indexOf('=')) : part;
                if (!readable(part)) {
                    return name.matches("[A-Za-z0-9_-]{1,40}") ? name : "address";
                }
            }
        }
        return null;
    }

    private static boolean readable(String encoded) {
        ByteArrayOutputStream bytes = new ByteArrayOutputStream(encoded.length());
        for (int i = 0; i < encoded.length(); i++) {
            char c = encoded.charAt(i);
            int high = c == '%' && i + 2 < encoded.length() ? Character.digit(encoded.charAt(i + 1), 16) : -1;
            int low = high < 0 ? -1 : Character.digit(encoded.charAt(i + 2), 16);
            if (c == '%' && low < 0) {
                return false;
            }
            bytes.write(c == '%' ? high * 16 + low : c);
            i += c == '%' ? 2 : 0;
            if (c == 0 || c == '%' && high == 0 && low == 0) {
                return false;
            }
        }
        try {
            StandardCharsets.UTF_8.newDecoder().decode(ByteBuffer.wrap(bytes.toByteArray()));
            return true;
        } catch (CharacterCodingException e) {
            return false;
        }
    }
}
