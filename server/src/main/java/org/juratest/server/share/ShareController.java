package org.juratest.server.share;

import java.security.Principal;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.springframework.http.HttpStatus;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/** Proposals for sharing out. */
@RestController
@RequestMapping("/api/plan/proposals")
class ShareController {

    private final Proposals proposals;

    ShareController(Proposals proposals) {
        this.proposals = proposals;
    }

    /** @param weeks 1 to 8, from tomorrow on */
    record ProposalAsked(int weeks) {}

    /** Jobs by their ids. */
    record JobsTaken(List<Long> jobs) {}

    /** The proposal there is; absent where there is none. */
    record CurrentProposal(@Nullable ProposalView proposal) {}

    @GetMapping("/current")
    CurrentProposal current() {
        return new CurrentProposal(proposals.current());
    }

    @PostMapping
    @ResponseStatus(HttpStatus.CREATED)
    ProposalView ask(@RequestBody ProposalAsked asked, Principal who) {
        return proposals.ask(asked.weeks, who.getName());
    }

    @PostMapping("/{id}/stop")
    ProposalView stop(@PathVariable long id) {
        return proposals.stop(id);
    }

    @PostMapping("/{id}/taken")
    Proposals.TakenUp take(@PathVariable long id, @RequestBody JobsTaken given, Principal who) {
        return proposals.take(id, given.jobs, who.getName());
    }

    @DeleteMapping("/{id}")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    void throwAway(@PathVariable long id) {
        proposals.throwAway(id);
    }
}
