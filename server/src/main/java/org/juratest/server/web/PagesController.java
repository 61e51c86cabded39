package org.juratest.server.web;

import org.springframework.core.io.ClassPathResource;
import org.springframework.core.io.Resource;
import org.springframework.http.CacheControl;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.stereotype.Controller;
import org.springframework.web.bind.annotation.GetMapping;

/** The addresses of the program's pages: all are the one page, which finds its way by the address. */
@Controller
class PagesController {

    static final Resource PAGE = new ClassPathResource("META-INF/resources/index.html");

    @GetMapping(
            value = {
                "/",
                "/round",
                "/round/**",
                "/days",
                "/days/**",
                "/plan",
                "/plan/**",
                "/bench",
                "/bench/**",
                "/records",
                "/records/**",
                "/compare",
                "/asset/**",
                "/register",
                "/register/**",
                "/people",
                "/people/**",
                "/account"
            },
            produces = MediaType.TEXT_HTML_VALUE)
    ResponseEntity<Resource> page() {
        return ResponseEntity.ok()
                .contentType(MediaType.TEXT_HTML)
                .cacheControl(CacheControl.noCache())
                .body(PAGE);
    }
}
