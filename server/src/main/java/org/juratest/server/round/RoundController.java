package org.juratest.server.round;

import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;

/** Today's round. */
@RestController
@RequestMapping("/api/round")
class RoundController {

  private final Rounds rounds;

  RoundController(Rounds rounds) {
    this.rounds = rounds;
  }

  @GetMapping
  Rounds.Round today() {
    return rounds.today();
  }
}
