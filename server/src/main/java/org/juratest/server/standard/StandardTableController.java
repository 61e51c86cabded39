package org.juratest.server.standard;

import java.security.Principal;
import java.util.List;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;

/** Tables of standards that methods judge by. */
@RestController
@RequestMapping("/api/standard-tables")
class StandardTableController {

    private final StandardTables tables;

    StandardTableController(StandardTables tables) {
        this.tables = tables;
    }

    @GetMapping
    List<StandardTableView> tables() {
        return tables.views();
    }

    @GetMapping("/{id}/{revision}")
    StandardTableView revision(@PathVariable String id, @PathVariable int revision) {
        return tables.at(id, revision);
    }

    /** Keeps a new revision, or a new table. */
    @PutMapping("/{id}")
    StandardTableView keep(
            @PathVariable String id, @RequestBody StandardTableView.StandardTableForm given, Principal person) {
        return tables.keep(id, given, person.getName());
    }
}
