package org.juratest.server.register;

import java.time.DateTimeException;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;
import org.juratest.core.procedure.Nameplate;
import org.juratest.core.quantity.Quantity;
import org.juratest.core.quantity.Unit;
import org.juratest.core.register.FieldProblem;
import org.juratest.core.register.PlateSchema;
import org.juratest.core.register.TypedQuantity;
import org.juratest.core.run.Refusal;
import org.juratest.formats.json.CoreJson;
import org.juratest.server.family.Families;
import org.juratest.server.web.FieldsException;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.stereotype.Service;
import org.springframework.transaction.annotation.Transactional;
import tools.jackson.core.type.TypeReference;

/**
 * What the register says of sites, positions, measuring installations and assets: added, changed in place, taken away.
 * Each is one act, and can be undone.
 */
@Service
class RegisterEdits {

    static final String PLATE = PlateSchema.PREFIX;
    static final String EXTRA = "extra.";
    private static final TypeReference<Map<String, String>> TEXTS = new TypeReference<>() {};

    private final JdbcClient jdbc;
    private final Acts acts;
    private final AssetClasses classes;
    private final ExtraFields extraFields;
    private final NewAssets newAssets;
    private final RegisterRows rows;

    RegisterEdits(
            JdbcClient jdbc,
            Acts acts,
            AssetClasses classes,
            ExtraFields extraFields,
            NewAssets newAssets,
            RegisterRows rows) {
        this.jdbc = jdbc;
        this.acts = acts;
        this.classes = classes;
        this.extraFields = extraFields;
        this.newAssets = newAssets;
        this.rows = rows;
    }

    /** A new site; numbers as they were typed. */
    record SiteForm(String code, String name, String km, String altitude, String zone) {}

    /** A new position. */
    record PositionForm(
            String code,
            String site,
            String family,
            @Nullable String title,
            @Nullable String partOf,
            @Nullable String part) {}

    /** A new measuring installation. */
    record MeasuringForm(String code, String site, @Nullable String title) {}

    /** What a field said and is to say. */
    record FieldChange(String field, String was, String now) {}

    @Transactional
    public long addSite(SiteForm form, String by) {
        List<FieldProblem> problems = new ArrayList<>();
        Codes.check("code", form.code, Codes.SITE, problems);
        Codes.words("name", "a name", RegisterRows.text(form.name), problems);
        Double km = number("km", form.km, 0, 40_000, problems);
        Double altitude = number("altitude", form.altitude, -500, 9_000, problems);
        zone("zone", form.zone, problems);
        if (problems.isEmpty() && rows.exists("site", "code", form.code)) {
            problems.add(new FieldProblem("code", "There is a site " + form.code + " already; take another code."));
        }
        FieldsException.throwIf(problems);
        long act = acts.begin(by, "Added the site " + form.name.strip());
        jdbc.sql("INSERT INTO site (code, name, km, altitude, zone) VALUES (:code, :name, :km, :altitude, :zone)")
                .param("code", form.code)
                .param("name", form.name.strip())
                .param("km", km)
                .param("altitude", altitude == null ? 0 : (int) Math.round(altitude))
                .param("zone", form.zone)
                .update();
        return act;
    }

    @Transactional
    public long addMeasuring(MeasuringForm form, String by) {
        List<FieldProblem> problems = new ArrayList<>();
        Codes.check("code", form.code, Codes.POSITION, problems);
        Codes.length("title", RegisterRows.text(form.title), problems);
        if (!rows.exists("site", "code", form.site)) {
            problems.add(new FieldProblem("site", "There is no site " + Codes.shortened(form.site) + "."));
        }
        if (problems.isEmpty()) {
            rows.taken("code", form.code, problems);
        }
        FieldsException.throwIf(problems);
        long act = acts.begin(by, "Added the measuring installation " + form.code);
        jdbc.sql("INSERT INTO measuring_installation (code, site, title) VALUES (:code, :site, :title)")
                .param("code", form.code)
                .param("site", form.site)
                .param("title", RegisterRows.text(form.title))
                .update();
        return act;
    }

    @Transactional
    public long addPosition(PositionForm form, String by) {
        List<FieldProblem> problems = new ArrayList<>();
        Codes.check("code", form.code, Codes.POSITION, problems);
        Codes.length("title", RegisterRows.text(form.title), problems);
        Codes.length("part", RegisterRows.text(form.part), problems);
        family("family", form.family, problems);
        if (!rows.exists("site", "code", form.site)) {
            problems.add(new FieldProblem("site", "There is no site " + Codes.shortened(form.site) + "."));
        }
        String whole = RegisterRows.text(form.partOf);
        partOf("partOf", whole, form.site, problems);
        if (problems.isEmpty()) {
            rows.taken("code", form.code, problems);
        }
        FieldsException.throwIf(problems);
        long act = acts.begin(by, "Added the position " + form.code);
        jdbc.sql("INSERT INTO position (code, site, family, title, part_of, part) VALUES (:code, :site, "
                        + ":family, :title, :partOf, :part)")
                .param("code", form.code)
                .param("site", form.site)
                .param("family", form.family)
                .param("title", RegisterRows.text(form.title))
                .param("partOf", AssetClasses.blankToNull(form.partOf), java.sql.Types.VARCHAR)
                .param("part", AssetClasses.blankToNull(form.part), java.sql.Types.VARCHAR)
                .update();
        return act;
    }

    private void partOf(String field, String whole, String site, List<FieldProblem> problems) {
        if (!whole.isEmpty() && !rows.exists("measuring_installation", "code", whole)) {
            problems.add(new FieldProblem(
                    field,
                    "There is no measuring installation " + Codes.shortened(whole)
                            + "; add it first, or leave this empty."));
        } else if (!whole.isEmpty()
                && !jdbc.sql("SELECT site FROM measuring_installation WHERE code = :code")
                        .param("code", whole)
                        .query(String.class)
                        .single()
                        .equals(site)) {
            problems.add(new FieldProblem(field, whole + " is at another site; its parts are at one."));
        }
    }

    private static void family(String field, String family, List<FieldProblem> problems) {
        if (!Families.ALL.contains(family)) {
            problems.add(new FieldProblem(
                    field,
                    "A family is one of " + String.join(", ", Families.ALL) + "; not \"" + Codes.shortened(family)
                            + "\"."));
        }
    }

    private static @Nullable Double number(
            String field, String typed, double least, double most, List<FieldProblem> problems) {
        try {
            double value = TypedQuantity.parse(typed, Unit.ONE).value();
            if (value < least || value > most) {
                problems.add(new FieldProblem(
                        field,
                        "It is " + (long) least + " to " + (long) most + ", not " + Codes.shortened(typed.strip())
                                + "."));
                return null;
            }
            return value;
        } catch (IllegalArgumentException e) {
            problems.add(new FieldProblem(
                    field,
                    typed.isBlank()
                            ? "It is missing; type a number."
                            : Character.toUpperCase(e.getMessage().charAt(0))
                                    + e.getMessage().substring(1) + "."));
            return null;
        }
    }

    private static void zone(String field, String zone, List<FieldProblem> problems) {
        try {
            ZoneId.of(zone);
        } catch (DateTimeException e) {
            problems.add(new FieldProblem(
                    field,
                    "\"" + Codes.shortened(zone)
                            + "\" is not a time zone; type a name such as CET, UTC or Etc/GMT-1."));
        }
    }

    // ---- Values changed in place

    /** Takes changes over into what is there, if it still is what it was. */
    private static Map<String, String> taken(
            Map<String, String> now, List<FieldChange> changes, Set<String> known, String of) {
        Map<String, String> wanted = new LinkedHashMap<>(now);
        List<FieldProblem> problems = new ArrayList<>();
        for (FieldChange change : changes) {
            if (!known.contains(change.field)) {
                problems.add(new FieldProblem(
                        change.field,
                        "\"" + Codes.shortened(change.field) + "\" is not a field of " + of
                                + " that can be changed here."));
            } else if (!now.getOrDefault(change.field, "").equals(change.was.strip())) {
                throw new Refusal(
                        "changed-meanwhile",
                        "Somebody else has changed this meanwhile: it says \"" + now.getOrDefault(change.field, "")
                                + "\" now, not \"" + change.was.strip()
                                + "\". Nothing of yours was stored; look at it again.",
                        change.field);
            } else {
                wanted.put(change.field, change.now.strip());
            }
        }
        if (changes.isEmpty()) {
            problems.add(new FieldProblem("changes", "Say what is to be changed."));
        }
        FieldsException.throwIf(problems);
        return wanted;
    }

    private static String told(List<FieldChange> changes, String of) {
        return changes.size() == 1
                ? "Changed " + changes.get(0).field.replace(PLATE, "").replace(EXTRA, "") + " of " + of
                : "Changed " + changes.size() + " values of " + of;
    }

    @Transactional
    public long changeSite(String code, List<FieldChange> changes, String by) {
        Map<String, String> now = rows.one(
                "SELECT name, km::text AS km, altitude::text AS altitude, zone FROM site WHERE code = :key FOR UPDATE",
                code,
                "site");
        now.put("km", plainNumber(now.get("km")));
        Map<String, String> wanted = taken(now, changes, Set.of("name", "km", "altitude", "zone"), "a site");
        List<FieldProblem> problems = new ArrayList<>();
        Codes.words("name", "a name", wanted.get("name"), problems);
        Double km = number("km", wanted.get("km"), 0, 40_000, problems);
        Double altitude = number("altitude", wanted.get("altitude"), -500, 9_000, problems);
        zone("zone", wanted.get("zone"), problems);
        FieldsException.throwIf(problems);
        long act = acts.begin(by, told(changes, code));
        jdbc.sql("UPDATE site SET name = :name, km = :km, altitude = :altitude, zone = :zone WHERE code = :code")
                .param("name", wanted.get("name"))
                .param("km", km)
                .param("altitude", altitude == null ? 0 : (int) Math.round(altitude))
                .param("zone", wanted.get("zone"))
                .param("code", code)
                .update();
        return act;
    }

    /** 3.1 and 10, not 3.1000 and 10.0. */
    static String plainNumber(String number) {
        return TypedQuantity.print(new Quantity(Double.parseDouble(number), Unit.ONE), Unit.ONE);
    }

    @Transactional
    public long changeMeasuring(String code, List<FieldChange> changes, String by) {
        Map<String, String> wanted = taken(
                rows.one(
                        "SELECT title FROM measuring_installation WHERE code = :key FOR UPDATE",
                        code,
                        "measuring installation"),
                changes,
                Set.of("title"),
                "a measuring installation");
        List<FieldProblem> problems = new ArrayList<>();
        Codes.length("title", wanted.get("title"), problems);
        FieldsException.throwIf(problems);
        long act = acts.begin(by, told(changes, code));
        jdbc.sql("UPDATE measuring_installation SET title = :title WHERE code = :code")
                .param("title", wanted.get("title"))
                .param("code", code)
                .update();
        return act;
    }

    @Transactional
    public long changePosition(String code, List<FieldChange> changes, String by) {
        Map<String, String> now = rows.one(
                "SELECT title, part_of AS \"partOf\", part, family, site, extra::text AS extra FROM position "
                        + "WHERE code = :key FOR UPDATE",
                code,
                "position");
        String site = now.remove("site");
        Map<String, String> extra = new TreeMap<>(CoreJson.mapper().readValue(now.remove("extra"), TEXTS));
        Set<String> known = new java.util.TreeSet<>(Set.of("title", "partOf", "part", "family"));
        known(extraFields.of(site, null), extra, now, known);
        Map<String, String> wanted = taken(now, changes, known, "a position");
        List<FieldProblem> problems = new ArrayList<>();
        Codes.length("title", wanted.get("title"), problems);
        Codes.length("part", wanted.get("part"), problems);
        partOf("partOf", wanted.get("partOf"), site, problems);
        family("family", wanted.get("family"), problems);
        if (!wanted.get("family").equals(now.get("family"))) {
            jdbc.sql("SELECT i.asset FROM installation i WHERE i.position = :code AND upper_inf(i.during)")
                    .param("code", code)
                    .query(String.class)
                    .optional()
                    .ifPresent(asset -> problems.add(new FieldProblem(
                            "family", asset + " stands here; a position changes its family only while it is empty.")));
        }
        extra(changes, extra, problems);
        FieldsException.throwIf(problems);
        long act = acts.begin(by, told(changes, code));
        jdbc.sql("UPDATE position SET title = :title, part_of = :partOf, part = :part, family = :family, "
                        + "extra = :extra::jsonb WHERE code = :code")
                .param("title", wanted.get("title"))
                .param("partOf", AssetClasses.blankToNull(wanted.get("partOf")), java.sql.Types.VARCHAR)
                .param("part", AssetClasses.blankToNull(wanted.get("part")), java.sql.Types.VARCHAR)
                .param("family", wanted.get("family"))
                .param("extra", CoreJson.mapper().writeValueAsString(extra))
                .param("code", code)
                .update();
        return act;
    }

    private static void known(
            List<ExtraFields.ExtraField> fields,
            Map<String, String> extra,
            Map<String, String> now,
            Set<String> known) {
        fields.forEach(f -> {
            known.add(EXTRA + f.key());
            now.put(EXTRA + f.key(), extra.getOrDefault(f.key(), ""));
        });
    }

    private static void extra(List<FieldChange> changes, Map<String, String> extra, List<FieldProblem> problems) {
        changes.stream().filter(c -> c.field.startsWith(EXTRA)).forEach(c -> {
            if (c.now.length() > ExtraFields.LONGEST) {
                problems.add(new FieldProblem(
                        c.field,
                        "It has at most " + ExtraFields.LONGEST + " characters, not " + c.now.length()
                                + "; shorten it."));
            } else if (c.now.chars().anyMatch(k -> k < ' ')) {
                problems.add(new FieldProblem(c.field, "It is one line without tabs; take the line breaks out."));
            } else if (c.now.isBlank()) {
                extra.remove(c.field.substring(EXTRA.length()));
            } else {
                extra.put(c.field.substring(EXTRA.length()), c.now.strip());
            }
        });
    }

    @Transactional
    public long changeAsset(String id, List<FieldChange> changes, String by) {
        Map<String, String> now = rows.one(
                "SELECT class, maker, model, serial, curve, nameplate::text AS nameplate, extra::text AS extra "
                        + "FROM asset WHERE id = :key FOR UPDATE",
                id,
                "asset");
        String assetClass = now.remove("class");
        PlateSchema schema = classes.schemas().getOrDefault(assetClass, new PlateSchema(List.of()));
        Nameplate plate = CoreJson.mapper().readValue(now.remove("nameplate"), Nameplate.class);
        Map<String, String> extra = new TreeMap<>(CoreJson.mapper().readValue(now.remove("extra"), TEXTS));
        Set<String> known = new java.util.TreeSet<>(Set.of("maker", "model", "serial", "curve"));
        schema.fields().forEach(f -> {
            known.add(PLATE + f.key());
            now.put(PLATE + f.key(), "");
        });
        schema.print(plate).forEach((key, typed) -> {
            known.add(PLATE + key);
            now.put(PLATE + key, typed);
        });
        known(extraFields.of(null, assetClass), extra, now, known);
        Map<String, String> wanted = taken(now, changes, known, "an asset");
        List<FieldProblem> problems = new ArrayList<>();
        Codes.words("maker", "its maker", wanted.get("maker"), problems);
        Codes.words("model", "its model", wanted.get("model"), problems);
        Codes.words("serial", "its serial number", wanted.get("serial"), problems);
        newAssets.curve("curve", wanted.get("curve"), problems);
        newAssets.sameDevice(id, wanted.get("maker"), wanted.get("model"), wanted.get("serial"), problems);
        Nameplate changed = plate(schema, plate, changes, problems);
        if (problems.isEmpty()) {
            newAssets.places(schema, changed, problems);
        }
        extra(changes, extra, problems);
        FieldsException.throwIf(problems);
        long act = acts.begin(by, told(changes, id));
        jdbc.sql("UPDATE asset SET maker = :maker, model = :model, serial = :serial, curve = :curve, "
                        + "nameplate = :plate::jsonb, extra = :extra::jsonb WHERE id = :id")
                .param("maker", wanted.get("maker"))
                .param("model", wanted.get("model"))
                .param("serial", wanted.get("serial"))
                .param("curve", AssetClasses.blankToNull(wanted.get("curve")), java.sql.Types.VARCHAR)
                .param("plate", CoreJson.mapper().writeValueAsString(changed))
                .param("extra", CoreJson.mapper().writeValueAsString(extra))
                .param("id", id)
                .update();
        return act;
    }

    /** A plate with some values changed. What was wrong with others before is not held against these. */
    private static Nameplate plate(
            PlateSchema schema, Nameplate plate, List<FieldChange> changes, List<FieldProblem> problems) {
        Map<String, Quantity> ratings = new TreeMap<>(plate.ratings());
        Map<String, String> texts = new TreeMap<>(plate.texts());
        for (FieldChange change : changes) {
            if (change.field.startsWith(PLATE)) {
                String key = change.field.substring(PLATE.length());
                ratings.remove(key);
                texts.remove(key);
                List<FieldProblem> found = new ArrayList<>();
                Nameplate one = new PlateSchema(schema.fields().stream()
                                .filter(f -> f.key().equals(key))
                                .toList())
                        .read(Map.of(key, change.now), found);
                problems.addAll(found);
                ratings.putAll(one.ratings());
                texts.putAll(one.texts());
            }
        }
        return new Nameplate(ratings, texts);
    }

    /** What a file is called, and what it shows. */
    @Transactional
    public long changeFile(String id, List<FieldChange> changes, String by) {
        Map<String, String> wanted = taken(
                rows.one("SELECT name, caption FROM attachment WHERE id::text = :key FOR UPDATE", id, "file"),
                changes,
                Set.of("name", "caption"),
                "a file");
        List<FieldProblem> problems = new ArrayList<>();
        Codes.words("name", "a name", wanted.get("name"), problems);
        Codes.length("caption", wanted.get("caption"), problems);
        FieldsException.throwIf(problems);
        long act = acts.begin(by, told(changes, wanted.get("name")));
        jdbc.sql("UPDATE attachment SET name = :name, caption = :caption WHERE id::text = :id")
                .param("name", wanted.get("name"))
                .param("caption", wanted.get("caption"))
                .param("id", id)
                .update();
        return act;
    }

    // ---- Taking away what was never used

    @Transactional
    public long removeSite(String code, String by) {
        String name = rows.one("SELECT name FROM site WHERE code = :key FOR UPDATE", code, "site")
                .get("name");
        refuse(
                "SELECT count(*) FROM position WHERE site = :key",
                code,
                "%d positions are at this site; a site goes with the last of them.");
        refuse(
                "SELECT count(*) FROM measuring_installation WHERE site = :key",
                code,
                "%d measuring installations are at this site; take them away first.");
        return remove("site", "site", code, "Took away the site " + name, by);
    }

    @Transactional
    public long removeMeasuring(String code, String by) {
        rows.one(
                "SELECT code FROM measuring_installation WHERE code = :key FOR UPDATE", code, "measuring installation");
        return remove(
                "measuring_installation",
                "measuringInstallation",
                code,
                "Took apart the measuring installation " + code,
                by);
    }

    @Transactional
    public long removePosition(String code, String by) {
        rows.one("SELECT code FROM position WHERE code = :key FOR UPDATE", code, "position");
        refuse(
                "SELECT count(*) FROM run WHERE position = :key",
                code,
                "%d tests were made here; a position with records is kept. Retire it instead.");
        refuse(
                "SELECT count(*) FROM installation WHERE position = :key",
                code,
                "%d devices have stood here; its history is kept. Retire it instead.");
        return remove("position", "position", code, "Took away the position " + code, by);
    }

    @Transactional
    public long removeAsset(String id, String by) {
        rows.one("SELECT id FROM asset WHERE id = :key FOR UPDATE", id, "asset");
        refuse(
                "SELECT count(*) FROM run WHERE asset = :key",
                id,
                "%d tests were made on it; an asset with records is kept. Retire it instead.");
        refuse(
                "SELECT count(*) FROM installation WHERE asset = :key",
                id,
                "It has stood at %d places; its history is kept. Retire it instead.");
        return remove("asset", "asset", id, "Took away the asset " + id, by);
    }

    /** Takes a row away with its files; parts of a whole stand for themselves then. */
    private long remove(String table, String kind, String key, String words, String by) {
        long act = acts.begin(by, words);
        jdbc.sql("DELETE FROM attachment WHERE kind = :kind AND key = :key")
                .param("kind", kind)
                .param("key", key)
                .update();
        if (table.equals("measuring_installation")) {
            jdbc.sql("UPDATE position SET part_of = NULL, part = NULL WHERE part_of = :key")
                    .param("key", key)
                    .update();
        }
        jdbc.sql("DELETE FROM " + table + " WHERE " + (table.equals("asset") ? "id" : "code") + " = :key")
                .param("key", key)
                .update();
        return act;
    }

    private void refuse(String count, String key, String words) {
        long there = jdbc.sql(count).param("key", key).query(Long.class).single();
        if (there > 0) {
            throw new Refusal("still-needed", String.format(java.util.Locale.ROOT, words, there), "key");
        }
    }

    /** A code for the next position of a kind at a site. */
    String nextPosition(String site, String mark) {
        String stem = site + "-" + mark + "-";
        Integer last = jdbc.sql("SELECT max(CAST(substring(code FROM :pattern) AS integer)) FROM position WHERE code ~ "
                        + ":pattern")
                .param("pattern", "^" + stem + "([0-9]{1,6})$")
                .query(Integer.class)
                .optional()
                .orElse(null);
        return stem + String.format(java.util.Locale.ROOT, "%02d", last == null ? 1 : last + 1);
    }
}
