package org.juratest.server.testset;

import java.security.Principal;
import org.springframework.http.HttpStatus;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/** Sets of tests of positions. */
@RestController
@RequestMapping("/api/test-sets")
class TestSetController {

    private final TestSets sets;

    TestSetController(TestSets sets) {
        this.sets = sets;
    }

    @GetMapping("/{position}")
    TestSet testSet(@PathVariable String position) {
        return sets.view(position);
    }

    /** Keeps what is tested there, in its order. */
    @PutMapping("/{position}")
    TestSet keepTestSet(@PathVariable String position, @RequestBody TestSet.TestSetForm given, Principal person) {
        return sets.keep(position, given, person.getName());
    }

    /** Raises what is not open of it, puts all of it on today, and opens the run of the first. */
    @PostMapping("/{position}/start")
    @ResponseStatus(HttpStatus.CREATED)
    TestSet.TestSetStarted startTestSet(@PathVariable String position, Principal person) {
        return sets.start(position, person.getName());
    }
}
