package org.juratest.server.plan;

import java.security.Principal;
import org.springframework.security.access.prepost.PreAuthorize;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;

/** What jobs need: everybody reads it, and enters outages, parts and what happened; people and access are a supervisor's. */
@RestController
@RequestMapping("/api")
class ResourceController {

  private static final String SUPERVISOR = "hasRole('supervisor')";

  private final Resources resources;

  ResourceController(Resources resources) {
    this.resources = resources;
  }

  @GetMapping("/plan/resources")
  Resources.ResourcesView all() {
    return resources.all();
  }

  @PutMapping("/plan/people/{person}/time")
  @PreAuthorize(SUPERVISOR)
  Resources.ResourcesView time(@PathVariable String person, @RequestBody Resources.TimeGiven given) {
    resources.time(person, given);
    return resources.all();
  }

  @PostMapping("/plan/people/{person}/absences")
  @PreAuthorize(SUPERVISOR)
  Resources.ResourcesView absent(@PathVariable String person, @RequestBody Resources.AbsenceGiven given) {
    resources.absent(person, given);
    return resources.all();
  }

  @DeleteMapping("/plan/absences/{absence}")
  @PreAuthorize(SUPERVISOR)
  Resources.ResourcesView present(@PathVariable long absence) {
    resources.present(absence);
    return resources.all();
  }

  @PutMapping("/plan/people/{person}/authorisations")
  @PreAuthorize(SUPERVISOR)
  Resources.ResourcesView authorise(@PathVariable String person, @RequestBody Resources.AuthorisationView given) {
    resources.authorise(person, given);
    return resources.all();
  }

  @DeleteMapping("/plan/people/{person}/authorisations/{kind}")
  @PreAuthorize(SUPERVISOR)
  Resources.ResourcesView withdraw(@PathVariable String person, @PathVariable String kind) {
    resources.withdraw(person, kind);
    return resources.all();
  }

  @PutMapping("/plan/sites/{site}/access")
  @PreAuthorize(SUPERVISOR)
  Resources.ResourcesView access(@PathVariable String site, @RequestBody Resources.AccessGiven given) {
    resources.access(site, given);
    return resources.all();
  }

  @PostMapping("/plan/outages")
  Resources.ResourcesView ask(@RequestBody Resources.OutageGiven given, Principal who) {
    resources.ask(given, who.getName());
    return resources.all();
  }

  @PutMapping("/plan/outages/{outage}")
  Resources.ResourcesView answer(@PathVariable long outage, @RequestBody Resources.OutageAnswer given, Principal who) {
    resources.answer(outage, given, who.getName());
    return resources.all();
  }

  @PostMapping("/plan/parts")
  Resources.ResourcesView part(@RequestBody Resources.PartGiven given) {
    resources.part(given);
    return resources.all();
  }

  @PutMapping("/plan/parts/{part}/lots/{lot}")
  Resources.ResourcesView lot(@PathVariable String part, @PathVariable String lot, @RequestBody Resources.LotGiven given) {
    resources.lot(part, lot, given);
    return resources.all();
  }

  @PostMapping("/assets/{asset}/events")
  void happened(@PathVariable String asset, @RequestBody Resources.HappenedGiven given, Principal who) {
    resources.happened(asset, given, who.getName());
  }

  @PostMapping("/assets/{asset}/counter")
  void counted(@PathVariable String asset, @RequestBody Resources.CounterGiven given, Principal who) {
    resources.counted(asset, given, who.getName());
  }
}
