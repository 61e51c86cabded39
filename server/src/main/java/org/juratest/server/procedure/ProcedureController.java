package org.juratest.server.procedure;

import java.util.List;
import org.juratest.formats.procedure.ProcedureJson;
import org.springframework.http.HttpStatus;
import org.springframework.http.MediaType;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/** Procedures: list, export, import, and the schema of their documents. */
@RestController
@RequestMapping("/api/procedures")
class ProcedureController {

    private final Procedures procedures;

    ProcedureController(Procedures procedures) {
        this.procedures = procedures;
    }

    @GetMapping
    List<Procedures.Summary> all() {
        return procedures.all();
    }

    @GetMapping(value = "/schema", produces = "application/schema+json")
    String schema() {
        return ProcedureJson.schema();
    }

    @GetMapping(value = "/{code}/{version}", produces = MediaType.APPLICATION_JSON_VALUE)
    byte[] export(@PathVariable String code, @PathVariable int version) {
        return ProcedureJson.canonical(procedures.version(code, version).procedure());
    }

    @PostMapping
    @ResponseStatus(HttpStatus.CREATED)
    Procedures.Summary take(@RequestBody byte[] document) {
        return procedures.put(ProcedureJson.read(document));
    }
}
