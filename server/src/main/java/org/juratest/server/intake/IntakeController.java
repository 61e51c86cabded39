package org.juratest.server.intake;

import io.swagger.v3.oas.annotations.media.Content;
import io.swagger.v3.oas.annotations.media.Schema;
import io.swagger.v3.oas.annotations.responses.ApiResponse;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.security.Principal;
import java.util.List;
import java.util.UUID;
import org.jspecify.annotations.Nullable;
import org.juratest.server.web.Working;
import org.springframework.http.HttpStatus;
import org.springframework.http.MediaType;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PatchMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/**
 * Files of other gear. Storing answers with server-sent events; whoever goes away meanwhile has cancelled it, and
 * nothing is stored then.
 */
@RestController
@RequestMapping("/api/intakes")
class IntakeController {

    private final Intakes intakes;
    private final Working working;

    IntakeController(Intakes intakes, Working working) {
        this.intakes = intakes;
        this.working = working;
    }

    @PostMapping
    @ResponseStatus(HttpStatus.CREATED)
    Intakes.IntakeView begin(@RequestBody Intakes.IntakeForm form, Principal person) {
        return intakes.view(intakes.begin(form, person.getName()), person.getName());
    }

    @GetMapping("/{id}")
    Intakes.IntakeView one(@PathVariable UUID id, Principal person) {
        return intakes.view(id, person.getName());
    }

    @PostMapping("/{id}/files")
    @ResponseStatus(HttpStatus.CREATED)
    Intakes.IntakeFile take(
            @PathVariable UUID id,
            @RequestParam String name,
            @RequestBody(required = false) byte @Nullable [] bytes,
            Principal person) {
        return intakes.take(id, name, bytes == null ? new byte[0] : bytes, person.getName());
    }

    @PatchMapping("/{id}/files/{n}")
    Intakes.IntakeFile change(
            @PathVariable UUID id, @PathVariable int n, @RequestBody Intakes.FileChange change, Principal person) {
        return intakes.change(id, n, change, person.getName());
    }

    @GetMapping("/{id}/places")
    List<Intakes.FilePlace> places(@PathVariable UUID id, @RequestParam String asset, Principal person) {
        return intakes.places(id, asset, person.getName());
    }

    @DeleteMapping("/{id}")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    void giveUp(@PathVariable UUID id, Principal person) {
        intakes.giveUp(id, person.getName());
    }

    @PostMapping("/{id}/store")
    @ApiResponse(
            responseCode = "200",
            content =
                    @Content(
                            mediaType = MediaType.TEXT_EVENT_STREAM_VALUE,
                            schema = @Schema(implementation = Intakes.IntakeResult.class)))
    void store(@PathVariable UUID id, HttpServletResponse response, Principal person) throws IOException {
        working.tell(response, progress -> intakes.store(id, person.getName(), progress));
    }
}
