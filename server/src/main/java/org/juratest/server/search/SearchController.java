package org.juratest.server.search;

import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** One search for everything. */
@RestController
@RequestMapping("/api/search")
class SearchController {

    private final Search search;

    SearchController(Search search) {
        this.search = search;
    }

    @GetMapping
    Search.Hits find(@RequestParam String text) {
        return search.find(text);
    }
}
