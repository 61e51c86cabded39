package org.juratest.server.register;

import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.juratest.core.procedure.Nameplate;
import org.juratest.core.register.FieldProblem;
import org.juratest.core.run.Refusal;
import org.juratest.server.web.FieldsException;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.stereotype.Service;
import org.springframework.transaction.annotation.Transactional;

/** What stands where, and what may stand anywhere: exchanged, retired, barred from use. Each is one act. */
@Service
class Exchanges {

    private final JdbcClient jdbc;
    private final Acts acts;
    private final AssetClasses classes;
    private final NewAssets newAssets;
    private final RegisterRows rows;
    private final Clock clock;

    Exchanges(JdbcClient jdbc, Acts acts, AssetClasses classes, NewAssets newAssets, RegisterRows rows, Clock clock) {
        this.jdbc = jdbc;
        this.acts = acts;
        this.classes = classes;
        this.newAssets = newAssets;
        this.rows = rows;
        this.clock = clock;
    }

    /**
     * What goes out of a position and what comes in.
     *
     * @param out what stands there as far as the person knows; absent if it is empty
     * @param outRetired why it is retired with that; absent if it goes to the store
     * @param in what comes in; absent if nothing does, or {@code inNew} says it
     * @param inFrom where that stands now; absent if it comes from the store
     * @param inNew a device that is not in the register yet
     * @param at when; absent for now
     */
    record Exchange(
            String position,
            @Nullable String out,
            @Nullable String outRetired,
            @Nullable String in,
            @Nullable String inFrom,
            NewAssets.@Nullable AssetForm inNew,
            @Nullable Instant at,
            @Nullable String why) {}

    @Transactional
    public long exchange(Exchange given, String by) {
        Map<String, String> position = rows.one(
                "SELECT family, retired_why AS retired FROM position WHERE code = :key FOR UPDATE",
                given.position,
                "position");
        if (!position.get("retired").isEmpty()) {
            throw new Refusal(
                    "retired", given.position + " is retired: nothing is installed there any more.", "position");
        }
        RegisterRows.Place there =
                rows.standing("position", given.position).stream().findFirst().orElse(null);
        if (!java.util.Objects.equals(there == null ? null : there.asset(), AssetClasses.blankToNull(given.out))) {
            throw new Refusal(
                    "changed-meanwhile",
                    there == null
                            ? "Nothing stands at " + given.position
                                    + " any more. Look at it again; nothing of yours was stored."
                            : there.asset() + " stands at " + given.position
                                    + " now. Look at it again; nothing of yours was stored.",
                    "out");
        }
        List<FieldProblem> problems = new ArrayList<>();
        Instant now = clock.instant();
        Instant at = given.at == null ? now : given.at;
        String in = given.inNew != null ? given.inNew.id() : AssetClasses.blankToNull(given.in);
        if (in == null && there == null) {
            problems.add(new FieldProblem("in", "Say which device comes in."));
        }
        if (at.isAfter(now.plusSeconds(60))) {
            problems.add(new FieldProblem("at", "The time lies ahead; enter the exchange when it is done."));
        }
        Codes.length("why", RegisterRows.text(given.why), problems);
        leaves("out", there, at, problems);
        if (in != null) {
            free("position", given.position, at, problems);
        }
        RegisterRows.Place from =
                in == null || given.inNew != null ? null : comesIn(given, in, position.get("family"), at, problems);
        FieldsException.throwIf(problems);
        Nameplate plate = given.inNew == null ? null : newAssets.checked(given.inNew, "inNew.");
        if (given.inNew != null) {
            fits(given.inNew.assetClass(), given.position, position.get("family"), "inNew.assetClass", problems);
            FieldsException.throwIf(problems);
        }
        long act = acts.begin(by, told(given.position, there, in, from, given.why));
        if (given.inNew != null && plate != null) {
            newAssets.insert(given.inNew, plate);
        }
        if (there != null) {
            end(there, at);
            jdbc.sql("UPDATE job SET status = 'withdrawn' WHERE asset = :asset AND status IN ('open', 'partly done')")
                    .param("asset", there.asset())
                    .update();
            if (given.outRetired != null) {
                retire(there.asset(), at, given.outRetired);
            }
        }
        if (from != null) {
            end(from, at);
        }
        if (in != null) {
            jdbc.sql("INSERT INTO installation (asset, position, during) VALUES (:asset, :position, "
                            + "tstzrange(:at, NULL))")
                    .param("asset", in)
                    .param("position", given.position)
                    .param("at", at.atOffset(java.time.ZoneOffset.UTC))
                    .update();
            jdbc.sql("UPDATE job SET position = :position WHERE asset = :asset AND status IN ('open', 'partly done')")
                    .param("asset", in)
                    .param("position", given.position)
                    .update();
        }
        return act;
    }

    private static String told(
            String position,
            RegisterRows.@Nullable Place out,
            @Nullable String in,
            RegisterRows.@Nullable Place from,
            @Nullable String why) {
        String words = out == null
                ? "Installed " + in + " at " + position
                : in == null
                        ? "Took " + out.asset() + " out of " + position
                        : "Exchanged " + out.asset() + " for " + in + " at " + position;
        return words
                + (from == null ? "" : ", from " + from.position())
                + (why == null || why.isBlank() ? "" : ": " + why.strip());
    }

    private void end(RegisterRows.Place place, Instant at) {
        jdbc.sql("UPDATE installation SET during = tstzrange(lower(during), :at) WHERE id = :id")
                .param("at", at.atOffset(java.time.ZoneOffset.UTC))
                .param("id", place.id())
                .update();
    }

    /** A device leaves a place after it came, after its last test there, and not in the middle of one. */
    private void leaves(String field, RegisterRows.@Nullable Place place, Instant at, List<FieldProblem> problems) {
        if (place == null) {
            return;
        }
        // Whoever opens a run holds its job: after this nobody opens one until the exchange is done.
        jdbc.sql("SELECT id FROM job WHERE asset = :asset AND status <> 'done' ORDER BY id FOR UPDATE")
                .param("asset", place.asset())
                .query(Long.class)
                .list();
        if (!at.isAfter(place.since())) {
            problems.add(new FieldProblem(
                    "at",
                    place.asset() + " came to " + place.position() + " on " + day(place.since())
                            + "; it leaves after that."));
        }
        jdbc.sql("SELECT max(finished_at) FROM run WHERE asset = :asset AND position = :position AND "
                        + "status = 'finished' AND finished_at > :at")
                .param("asset", place.asset())
                .param("position", place.position())
                .param("at", at.atOffset(java.time.ZoneOffset.UTC))
                .query(java.sql.Timestamp.class)
                .optional()
                .ifPresent(tested -> problems.add(new FieldProblem(
                        "at",
                        place.asset() + " was tested at " + place.position() + " on " + day(tested.toInstant())
                                + "; it leaves after that.")));
        if (jdbc.sql("SELECT EXISTS (SELECT 1 FROM run WHERE asset = :asset AND status = 'open')")
                .param("asset", place.asset())
                .query(Boolean.class)
                .single()) {
            problems.add(new FieldProblem(
                    field, "A run is open on " + place.asset() + "; finish or abort it at the bench first."));
        }
    }

    /** What comes, comes after the last that stood there was gone, and after it left the last place itself. */
    private void free(String column, String value, Instant at, List<FieldProblem> problems) {
        jdbc.sql("SELECT max(upper(during)) FROM installation WHERE " + column + " = :value AND NOT upper_inf(during)")
                .param("value", value)
                .query(java.sql.Timestamp.class)
                .optional()
                .filter(until -> until.toInstant().isAfter(at))
                .ifPresent(until -> problems.add(new FieldProblem(
                        "at",
                        (column.equals("asset") ? value + " stood elsewhere" : "Another device stood at " + value)
                                + " until " + day(until.toInstant()) + "; enter a later time.")));
    }

    private static String day(Instant instant) {
        return instant.toString().substring(0, 10);
    }

    private RegisterRows.@Nullable Place comesIn(
            Exchange given, String in, String family, Instant at, List<FieldProblem> problems) {
        Map<String, String> asset = rows.one(
                "SELECT class, retired_why AS retired, do_not_use AS barred FROM asset WHERE id = :key FOR UPDATE",
                in,
                "asset");
        if (!asset.get("retired").isEmpty()) {
            problems.add(new FieldProblem(
                    "in", in + " is retired (" + asset.get("retired") + "); bring it back first, or take another."));
        }
        if (!asset.get("barred").isEmpty()) {
            problems.add(new FieldProblem(
                    "in",
                    in + " is not to be used: " + asset.get("barred") + ". Take another, or clear that on its page."));
        }
        fits(asset.get("class"), given.position, family, "in", problems);
        RegisterRows.Place from =
                rows.standing("asset", in).stream().findFirst().orElse(null);
        if (from != null && from.position().equals(given.position)) {
            problems.add(new FieldProblem("in", in + " stands there already."));
        } else if (!java.util.Objects.equals(
                from == null ? null : from.position(), AssetClasses.blankToNull(given.inFrom))) {
            throw new Refusal(
                    "changed-meanwhile",
                    from == null
                            ? in + " stands nowhere now. Look at it again; nothing of yours was stored."
                            : in + " stands at " + from.position() + "; say that it is taken from there.",
                    "inFrom");
        }
        leaves("in", from, at, problems);
        free("asset", in, at, problems);
        return from;
    }

    private void fits(String assetClass, String position, String family, String field, List<FieldProblem> problems) {
        classes.find(assetClass)
                .filter(c -> !c.family().equals(family))
                .ifPresent(c -> problems.add(new FieldProblem(
                        field,
                        position + " is for " + family + "; a device of the class " + c.title() + " is of the family "
                                + c.family() + ".")));
    }

    private void retire(String asset, Instant at, String why) {
        List<FieldProblem> problems = new ArrayList<>();
        Codes.words("why", "a reason", RegisterRows.text(why), problems);
        FieldsException.throwIf(problems);
        jdbc.sql("UPDATE asset SET retired_at = :at, retired_why = :why WHERE id = :id")
                .param("at", at.atOffset(java.time.ZoneOffset.UTC))
                .param("why", why.strip())
                .param("id", asset)
                .update();
    }

    /** Retires an asset that stands nowhere. */
    @Transactional
    public long retireAsset(String id, String why, String by) {
        Map<String, String> asset =
                rows.one("SELECT retired_why AS retired FROM asset WHERE id = :key FOR UPDATE", id, "asset");
        List<FieldProblem> problems = new ArrayList<>();
        Codes.words("why", "a reason", RegisterRows.text(why), problems);
        rows.standing("asset", id)
                .forEach(p -> problems.add(
                        new FieldProblem("why", id + " stands at " + p.position() + "; take it out there first.")));
        if (!asset.get("retired").isEmpty()) {
            problems.add(new FieldProblem("why", id + " is retired already."));
        }
        FieldsException.throwIf(problems);
        long act = acts.begin(by, "Retired " + id + ": " + why.strip());
        retire(id, clock.instant(), why);
        return act;
    }

    /** Brings a retired asset or position back. */
    @Transactional
    public long bringBack(String table, String key, String by) {
        boolean asset = table.equals("asset");
        if (rows.one(
                        "SELECT retired_why AS retired FROM " + (asset ? "asset WHERE id" : "position WHERE code")
                                + " = :key FOR UPDATE",
                        key,
                        table)
                .get("retired")
                .isEmpty()) {
            throw new Refusal("not-retired", key + " is not retired.", "key");
        }
        long act = acts.begin(by, "Brought back " + key);
        jdbc.sql("UPDATE " + (asset ? "asset" : "position") + " SET retired_at = NULL, retired_why = NULL WHERE "
                        + (asset ? "id" : "code") + " = :key")
                .param("key", key)
                .update();
        return act;
    }

    @Transactional
    public long retirePosition(String code, String why, String by) {
        Map<String, String> position =
                rows.one("SELECT retired_why AS retired FROM position WHERE code = :key FOR UPDATE", code, "position");
        List<FieldProblem> problems = new ArrayList<>();
        Codes.words("why", "a reason", RegisterRows.text(why), problems);
        rows.standing("position", code)
                .forEach(p -> problems.add(new FieldProblem("why", p.asset() + " stands here; take it out first.")));
        if (!position.get("retired").isEmpty()) {
            problems.add(new FieldProblem("why", code + " is retired already."));
        }
        FieldsException.throwIf(problems);
        long act = acts.begin(by, "Retired the position " + code + ": " + why.strip());
        jdbc.sql("UPDATE position SET retired_at = :at, retired_why = :why WHERE code = :code")
                .param("at", clock.instant().atOffset(java.time.ZoneOffset.UTC))
                .param("why", why.strip())
                .param("code", code)
                .update();
        return act;
    }

    /** Bars an asset from use: everybody sees it wherever the asset is shown. */
    @Transactional
    public long bar(String id, String why, String by) {
        rows.one("SELECT id FROM asset WHERE id = :key FOR UPDATE", id, "asset");
        List<FieldProblem> problems = new ArrayList<>();
        Codes.words("why", "a reason", RegisterRows.text(why), problems);
        FieldsException.throwIf(problems);
        long act = acts.begin(by, "Not to be used: " + id + ", " + why.strip());
        jdbc.sql("UPDATE asset SET do_not_use = :why, do_not_use_since = :at, do_not_use_by = :by WHERE id = :id")
                .param("why", why.strip())
                .param("at", clock.instant().atOffset(java.time.ZoneOffset.UTC))
                .param("by", by)
                .param("id", id)
                .update();
        return act;
    }

    @Transactional
    public long clear(String id, String by) {
        if (rows.one("SELECT do_not_use AS barred FROM asset WHERE id = :key FOR UPDATE", id, "asset")
                .get("barred")
                .isEmpty()) {
            throw new Refusal("not-barred", id + " may be used already.", "key");
        }
        long act = acts.begin(by, "May be used again: " + id);
        jdbc.sql("UPDATE asset SET do_not_use = NULL, do_not_use_since = NULL, do_not_use_by = NULL WHERE id = :id")
                .param("id", id)
                .update();
        return act;
    }
}
