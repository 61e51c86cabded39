package org.juratest.server.plan;

import java.security.Principal;
import org.jspecify.annotations.Nullable;
import org.juratest.server.web.PreconditionException;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestHeader;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;

/** What jobs need, and what happened to devices. */
@RestController
@RequestMapping("/api")
class ResourceController {

    private final Resources resources;

    ResourceController(Resources resources) {
        this.resources = resources;
    }

    @GetMapping("/plan/resources")
    Resources.ResourcesView all() {
        return resources.all();
    }

    @PutMapping("/plan/people/{person}/time")
    Resources.ResourcesView time(
            @PathVariable String person,
            @RequestBody Resources.TimeGiven given,
            @RequestHeader(name = "If-Match", required = false) @Nullable String ifMatch,
            Principal who) {
        resources.time(person, given, PreconditionException.expected(ifMatch), who.getName());
        return resources.all();
    }

    @PostMapping("/plan/people/{person}/absences")
    Resources.ResourcesView absent(
            @PathVariable String person, @RequestBody Resources.AbsenceGiven given, Principal who) {
        resources.absent(person, given, who.getName());
        return resources.all();
    }

    @DeleteMapping("/plan/absences/{absence}")
    Resources.ResourcesView present(@PathVariable long absence, Principal who) {
        resources.present(absence, who.getName());
        return resources.all();
    }

    @PutMapping("/plan/people/{person}/authorisations")
    Resources.ResourcesView authorise(
            @PathVariable String person,
            @RequestBody Resources.AuthorisationView given,
            @RequestHeader(name = "If-Match", required = false) @Nullable String ifMatch,
            Principal who) {
        resources.authorise(person, given, PreconditionException.expected(ifMatch), who.getName());
        return resources.all();
    }

    @DeleteMapping("/plan/people/{person}/authorisations/{kind}")
    Resources.ResourcesView withdraw(@PathVariable String person, @PathVariable String kind, Principal who) {
        resources.withdraw(person, kind, who.getName());
        return resources.all();
    }

    @PutMapping("/plan/sites/{site}/access")
    Resources.ResourcesView access(
            @PathVariable String site,
            @RequestBody Resources.AccessGiven given,
            @RequestHeader(name = "If-Match", required = false) @Nullable String ifMatch,
            Principal who) {
        resources.access(site, given, PreconditionException.expected(ifMatch), who.getName());
        return resources.all();
    }

    @PostMapping("/plan/outages")
    Resources.ResourcesView ask(@RequestBody Resources.OutageGiven given, Principal who) {
        resources.ask(given, who.getName());
        return resources.all();
    }

    @PutMapping("/plan/outages/{outage}")
    Resources.ResourcesView answer(
            @PathVariable long outage, @RequestBody Resources.OutageAnswer given, Principal who) {
        resources.answer(outage, given, who.getName());
        return resources.all();
    }

    @PostMapping("/plan/parts")
    Resources.ResourcesView part(@RequestBody Resources.PartGiven given, Principal who) {
        resources.part(given, who.getName());
        return resources.all();
    }

    @PutMapping("/plan/parts/{part}/lots/{lot}")
    Resources.ResourcesView lot(
            @PathVariable String part, @PathVariable String lot, @RequestBody Resources.LotGiven given, Principal who) {
        resources.lot(part, lot, given, who.getName());
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
