package org.juratest.server.register;

import java.security.Principal;
import java.util.List;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import org.juratest.core.run.Refusal;
import org.juratest.server.people.People;
import org.juratest.server.register.Acts.ActView;
import org.juratest.server.web.NotFoundException;
import org.springframework.http.HttpStatus;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PatchMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/**
 * The register. Every change answers with the act it was, which can be undone. A change of values says what each was,
 * and an exchange what stood there: that is their {@code If-Match}, told by value, so that two people can change
 * different values of one thing.
 */
@RestController
@RequestMapping("/api/register")
class RegisterController {

    private static final int MOST_FOUND = 500;
    private static final int MOST_ACTS = 200;
    private static final Set<String> WHERE =
            Set.of("store", "retired", "act", "watch", "unknown", "sound", "barred", "empty");

    private final RegisterPages pages;
    private final RegisterEdits edits;
    private final Exchanges exchanges;
    private final NewAssets newAssets;
    private final Acts acts;
    private final People people;

    RegisterController(
            RegisterPages pages,
            RegisterEdits edits,
            Exchanges exchanges,
            NewAssets newAssets,
            Acts acts,
            People people) {
        this.pages = pages;
        this.edits = edits;
        this.exchanges = exchanges;
        this.newAssets = newAssets;
        this.acts = acts;
        this.people = people;
    }

    /** Values to be changed, together or not at all. */
    record FieldChanges(List<RegisterEdits.FieldChange> changes) {}

    /** Why something is done. */
    record Why(String why) {}

    /** A code nobody has yet. */
    record FreeCode(String code) {}

    @GetMapping
    RegisterPages.RegisterOverview overview() {
        return pages.overview();
    }

    @GetMapping("/find")
    RegisterPages.FoundPlaces find(
            @RequestParam(defaultValue = "") String text,
            @RequestParam(required = false) @Nullable String where,
            @RequestParam(defaultValue = "200") int limit) {
        if (limit < 1 || limit > MOST_FOUND) {
            throw new Refusal("out-of-range", "A list has 1 to " + MOST_FOUND + " lines, not " + limit + ".", "limit");
        }
        if (where != null && !WHERE.contains(where)) {
            throw new Refusal(
                    "unknown-place",
                    "Where is one of " + String.join(", ", new java.util.TreeSet<>(WHERE)) + "; not \"" + where + "\".",
                    "where");
        }
        return pages.find(text, where, limit);
    }

    @GetMapping("/sites/{code}")
    RegisterPages.SitePage site(@PathVariable String code) {
        return pages.site(code);
    }

    @GetMapping("/positions/{code}")
    RegisterPages.PositionPage position(@PathVariable String code) {
        return pages.position(code);
    }

    @GetMapping("/measuring-installations/{code}")
    RegisterPages.MeasuringPage measuring(@PathVariable String code) {
        return pages.measuring(code);
    }

    @GetMapping("/assets/{id}")
    RegisterPages.AssetPage asset(@PathVariable String id) {
        return pages.asset(id);
    }

    /** Everything that must not be used, wherever it is shown. */
    @GetMapping("/do-not-use")
    List<RegisterPages.Barred> barred() {
        return pages.barred();
    }

    /** A free id for an asset of a class, or a free code for a position of a kind at a site. */
    @GetMapping("/free-code")
    FreeCode free(
            @RequestParam(required = false) @Nullable String assetClass,
            @RequestParam(required = false) @Nullable String site,
            @RequestParam(required = false) @Nullable String mark) {
        if (assetClass != null) {
            return new FreeCode(newAssets.nextId(assetClass));
        }
        if (site == null || mark == null || !mark.matches("[A-Z0-9]{1,6}")) {
            throw new Refusal(
                    "bad-request",
                    "Say the class of an asset, or site and mark of a position.",
                    site == null ? "site" : "mark");
        }
        return new FreeCode(edits.nextPosition(site, mark));
    }

    @PostMapping("/sites")
    @ResponseStatus(HttpStatus.CREATED)
    ActView addSite(@RequestBody RegisterEdits.SiteForm form, Principal person) {
        return acts.one(edits.addSite(form, person.getName()));
    }

    @PostMapping("/measuring-installations")
    @ResponseStatus(HttpStatus.CREATED)
    ActView addMeasuring(@RequestBody RegisterEdits.MeasuringForm form, Principal person) {
        return acts.one(edits.addMeasuring(form, person.getName()));
    }

    @PostMapping("/positions")
    @ResponseStatus(HttpStatus.CREATED)
    ActView addPosition(@RequestBody RegisterEdits.PositionForm form, Principal person) {
        return acts.one(edits.addPosition(form, person.getName()));
    }

    @PostMapping("/assets")
    @ResponseStatus(HttpStatus.CREATED)
    ActView addAsset(@RequestBody NewAssets.AssetForm form, Principal person) {
        return acts.one(newAssets.add(form, person.getName()));
    }

    @PatchMapping("/{kind}/{key}")
    ActView change(
            @PathVariable String kind, @PathVariable String key, @RequestBody FieldChanges given, Principal person) {
        String by = person.getName();
        return acts.one(
                switch (kind) {
                    case "sites" -> edits.changeSite(key, given.changes, by);
                    case "positions" -> edits.changePosition(key, given.changes, by);
                    case "measuring-installations" -> edits.changeMeasuring(key, given.changes, by);
                    case "assets" -> edits.changeAsset(key, given.changes, by);
                    case "files" -> edits.changeFile(key, given.changes, by);
                    default -> throw new NotFoundException("kind", kind);
                });
    }

    @DeleteMapping("/{kind}/{key}")
    ActView remove(@PathVariable String kind, @PathVariable String key, Principal person) {
        String by = person.getName();
        return acts.one(
                switch (kind) {
                    case "sites" -> edits.removeSite(key, by);
                    case "positions" -> edits.removePosition(key, by);
                    case "measuring-installations" -> edits.removeMeasuring(key, by);
                    case "assets" -> edits.removeAsset(key, by);
                    default -> throw new NotFoundException("kind", kind);
                });
    }

    /** Something goes out of a position, comes in, or both. */
    @PostMapping("/exchanges")
    @ResponseStatus(HttpStatus.CREATED)
    ActView exchange(@RequestBody Exchanges.Exchange given, Principal person) {
        return acts.one(exchanges.exchange(given, person.getName()));
    }

    @PutMapping("/positions/{code}/retirement")
    ActView retirePosition(@PathVariable String code, @RequestBody Why given, Principal person) {
        return acts.one(exchanges.retirePosition(code, given.why, person.getName()));
    }

    @PutMapping("/assets/{id}/retirement")
    ActView retireAsset(@PathVariable String id, @RequestBody Why given, Principal person) {
        return acts.one(exchanges.retireAsset(id, given.why, person.getName()));
    }

    @DeleteMapping("/positions/{code}/retirement")
    ActView positionBack(@PathVariable String code, Principal person) {
        return acts.one(exchanges.bringBack("position", code, person.getName()));
    }

    @DeleteMapping("/assets/{id}/retirement")
    ActView assetBack(@PathVariable String id, Principal person) {
        return acts.one(exchanges.bringBack("asset", id, person.getName()));
    }

    @PutMapping("/assets/{id}/do-not-use")
    ActView bar(@PathVariable String id, @RequestBody Why given, Principal person) {
        return acts.one(exchanges.bar(id, given.why, person.getName()));
    }

    @DeleteMapping("/assets/{id}/do-not-use")
    ActView clear(@PathVariable String id, Principal person) {
        return acts.one(exchanges.clear(id, person.getName()));
    }

    /** Who changed what when, newest first. */
    @GetMapping("/acts")
    List<ActView> acts(
            @RequestParam(required = false) @Nullable String of,
            @RequestParam(required = false) @Nullable Long before,
            @RequestParam(defaultValue = "50") int limit) {
        if (limit < 1 || limit > MOST_ACTS) {
            throw new Refusal("out-of-range", "A page has 1 to " + MOST_ACTS + " acts, not " + limit + ".", "limit");
        }
        return acts.all(of, before, limit);
    }

    @PostMapping("/acts/{id}/undo")
    ActView undo(@PathVariable long id, Principal person) {
        return acts.undo(id, people.byId(person.getName()));
    }
}
