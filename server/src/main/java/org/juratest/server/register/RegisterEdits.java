package org.juratest.server.register;

import java.time.Clock;
import java.time.DateTimeException;
import java.time.Instant;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import org.juratest.core.procedure.Nameplate;
import org.juratest.core.quantity.Quantity;
import org.juratest.core.quantity.Unit;
import org.juratest.core.register.FieldProblem;
import org.juratest.core.register.PlateSchema;
import org.juratest.core.register.TypedQuantity;
import org.juratest.core.run.Refusal;
import org.juratest.formats.json.CoreJson;
import org.juratest.server.curve.Curves;
import org.juratest.server.web.NotFoundException;
import org.jspecify.annotations.Nullable;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.stereotype.Service;
import org.springframework.transaction.annotation.Transactional;
import tools.jackson.core.type.TypeReference;

/** Changes of the register: each is one act, kept with who and when, and can be undone. */
@Service
class RegisterEdits {

  static final String PLATE = PlateSchema.PREFIX;
  static final String EXTRA = "extra.";
  private static final TypeReference<Map<String, String>> TEXTS = new TypeReference<>() {
  };

  private final JdbcClient jdbc;
  private final Acts acts;
  private final AssetClasses classes;
  private final ExtraFields extraFields;
  private final Curves curves;
  private final Clock clock;

  RegisterEdits(JdbcClient jdbc, Acts acts, AssetClasses classes, ExtraFields extraFields, Curves curves, Clock clock) {
    this.jdbc = jdbc;
    this.acts = acts;
    this.classes = classes;
    this.extraFields = extraFields;
    this.curves = curves;
    this.clock = clock;
  }

  /** A new site; numbers as they were typed. */
  record SiteForm(String code, String name, String km, String altitude, String zone) {
  }

  /** A new position. */
  record PositionForm(String code, String site, String family, @Nullable String title, @Nullable String partOf, @Nullable String part) {
  }

  /** A new measuring installation. */
  record MeasuringForm(String code, String site, @Nullable String title) {
  }

  /** A new asset; plate values as they were typed, by key. */
  record AssetForm(String id, String assetClass, String maker, String model, String serial, @Nullable String curve, Map<String, String> plate) {
  }

  /** What a field said and is to say. */
  record FieldChange(String field, String was, String now) {
  }

  private static String text(@Nullable String text) {
    return text == null ? "" : text.strip();
  }

  @Transactional
  public long addSite(SiteForm form, String by) {
    List<FieldProblem> problems = new ArrayList<>();
    Codes.check("code", form.code, Codes.SITE, problems);
    Codes.words("name", "a name", text(form.name), problems);
    Double km = number("km", form.km, 0, 40_000, problems);
    Double altitude = number("altitude", form.altitude, -500, 9_000, problems);
    zone("zone", form.zone, problems);
    if (problems.isEmpty() && exists("site", "code", form.code)) {
      problems.add(new FieldProblem("code", "There is a site " + form.code + " already; take another code."));
    }
    FieldsException.throwIf(problems);
    long act = acts.begin(by, "Added the site " + form.name.strip());
    jdbc.sql("INSERT INTO site (code, name, km, altitude, zone) VALUES (:code, :name, :km, :altitude, :zone)").param("code", form.code).param("name", form.name.strip())
        .param("km", km).param("altitude", altitude == null ? 0 : (int) Math.round(altitude)).param("zone", form.zone).update();
    return act;
  }

  @Transactional
  public long addMeasuring(MeasuringForm form, String by) {
    List<FieldProblem> problems = new ArrayList<>();
    Codes.check("code", form.code, Codes.POSITION, problems);
    Codes.length("title", text(form.title), problems);
    if (!exists("site", "code", form.site)) {
      problems.add(new FieldProblem("site", "There is no site " + Codes.shortened(form.site) + "."));
    }
    if (problems.isEmpty()) {
      taken("code", form.code, problems);
    }
    FieldsException.throwIf(problems);
    long act = acts.begin(by, "Added the measuring installation " + form.code);
    jdbc.sql("INSERT INTO measuring_installation (code, site, title) VALUES (:code, :site, :title)").param("code", form.code).param("site", form.site)
        .param("title", text(form.title)).update();
    return act;
  }

  @Transactional
  public long addPosition(PositionForm form, String by) {
    List<FieldProblem> problems = new ArrayList<>();
    Codes.check("code", form.code, Codes.POSITION, problems);
    Codes.length("title", text(form.title), problems);
    Codes.length("part", text(form.part), problems);
    family("family", form.family, problems);
    if (!exists("site", "code", form.site)) {
      problems.add(new FieldProblem("site", "There is no site " + Codes.shortened(form.site) + "."));
    }
    String whole = text(form.partOf);
    partOf("partOf", whole, form.site, problems);
    if (problems.isEmpty()) {
      taken("code", form.code, problems);
    }
    FieldsException.throwIf(problems);
    long act = acts.begin(by, "Added the position " + form.code);
    jdbc.sql("INSERT INTO position (code, site, family, title, part_of, part) VALUES (:code, :site, :family, :title, :partOf, :part)").param("code", form.code)
        .param("site", form.site).param("family", form.family).param("title", text(form.title)).param("partOf", AssetClasses.blankToNull(form.partOf), java.sql.Types.VARCHAR)
        .param("part", AssetClasses.blankToNull(form.part), java.sql.Types.VARCHAR).update();
    return act;
  }

  private void partOf(String field, String whole, String site, List<FieldProblem> problems) {
    if (!whole.isEmpty() && !exists("measuring_installation", "code", whole)) {
      problems.add(new FieldProblem(field, "There is no measuring installation " + Codes.shortened(whole) + "; add it first, or leave this empty."));
    } else if (!whole.isEmpty() && !jdbc.sql("SELECT site FROM measuring_installation WHERE code = :code").param("code", whole).query(String.class).single().equals(site)) {
      problems.add(new FieldProblem(field, whole + " is at another site; its parts are at one."));
    }
  }

  private static void family(String field, String family, List<FieldProblem> problems) {
    if (!Families.ALL.contains(family)) {
      problems.add(new FieldProblem(field, "A family is one of " + String.join(", ", Families.ALL) + "; not \"" + Codes.shortened(family) + "\"."));
    }
  }

  /** A code in an address means a position, a measuring installation or an asset: one of them. */
  private void taken(String field, String code, List<FieldProblem> problems) {
    String what = exists("position", "code", code) ? "a position" : exists("asset", "id", code) ? "an asset" : exists("measuring_installation", "code", code) ? "a measuring installation" : null;
    if (what != null) {
      problems.add(new FieldProblem(field, "There is " + what + " " + code + " already; take another code."));
    }
  }

  private boolean exists(String table, String key, String value) {
    return jdbc.sql("SELECT EXISTS (SELECT 1 FROM " + table + " WHERE " + key + " = :value)").param("value", value).query(Boolean.class).single();
  }

  private static @Nullable Double number(String field, String typed, double least, double most, List<FieldProblem> problems) {
    try {
      double value = TypedQuantity.parse(typed, Unit.ONE).value();
      if (value < least || value > most) {
        problems.add(new FieldProblem(field, "It is " + (long) least + " to " + (long) most + ", not " + Codes.shortened(typed.strip()) + "."));
        return null;
      }
      return value;
    } catch (IllegalArgumentException e) {
      problems.add(new FieldProblem(field, typed.isBlank() ? "It is missing; type a number." : Character.toUpperCase(e.getMessage().charAt(0)) + e.getMessage().substring(1) + "."));
      return null;
    }
  }

  private static void zone(String field, String zone, List<FieldProblem> problems) {
    try {
      ZoneId.of(zone);
    } catch (DateTimeException e) {
      problems.add(new FieldProblem(field, "\"" + Codes.shortened(zone) + "\" is not a time zone; type a name such as CET, UTC or Etc/GMT-1."));
    }
  }

  /** Adds an asset that stands nowhere yet. */
  @Transactional
  public long addAsset(AssetForm form, String by) {
    Nameplate plate = checked(form, "");
    long act = acts.begin(by, "Added the asset " + form.id + ", " + form.maker.strip() + " " + form.model.strip());
    insert(form, plate);
    return act;
  }

  private Nameplate checked(AssetForm form, String prefix) {
    List<FieldProblem> problems = new ArrayList<>();
    Codes.check("id", form.id, Codes.ASSET, problems);
    Codes.words("maker", "its maker", text(form.maker), problems);
    Codes.words("model", "its model", text(form.model), problems);
    Codes.words("serial", "its serial number", text(form.serial), problems);
    if (problems.isEmpty() && form.id.equalsIgnoreCase(form.serial.strip())) {
      problems.add(new FieldProblem("id", "The id stays for good and is not the serial number: take one such as CBK-1007."));
    }
    curve("curve", text(form.curve), problems);
    PlateSchema schema = classes.schemas().get(form.assetClass);
    Nameplate plate = new Nameplate(Map.of(), Map.of());
    if (schema == null) {
      problems.add(new FieldProblem("assetClass", "There is no class " + Codes.shortened(form.assetClass) + "."));
    } else {
      plate = schema.read(form.plate, problems);
    }
    if (problems.isEmpty()) {
      taken("id", form.id, problems);
      sameDevice(form.id, form.maker.strip(), form.model.strip(), form.serial.strip(), problems);
    }
    FieldsException.throwIf(problems.stream().map(p -> new FieldProblem(prefix + p.field(), p.what())).toList());
    return plate;
  }

  private void curve(String field, String curve, List<FieldProblem> problems) {
    if (!curve.isEmpty() && curves.library().byId(curve).isEmpty()) {
      problems.add(new FieldProblem(field, "There is no curve " + Codes.shortened(curve) + "; leave it empty, or bring the curve in first."));
    }
  }

  private void sameDevice(String id, String maker, String model, String serial, List<FieldProblem> problems) {
    jdbc.sql("SELECT id FROM asset WHERE maker = :maker AND model = :model AND serial = :serial AND id <> :id").param("maker", maker).param("model", model).param("serial", serial)
        .param("id", id).query(String.class).optional()
        .ifPresent(other -> problems.add(new FieldProblem("serial", maker + " " + model + ", no. " + serial + " is in the register already: " + other + ".")));
  }

  private void insert(AssetForm form, Nameplate plate) {
    jdbc.sql("INSERT INTO asset (id, class, maker, model, serial, nameplate, curve) VALUES (:id, :class, :maker, :model, :serial, :plate::jsonb, :curve)").param("id", form.id)
        .param("class", form.assetClass).param("maker", form.maker.strip()).param("model", form.model.strip()).param("serial", form.serial.strip())
        .param("plate", CoreJson.mapper().writeValueAsString(plate)).param("curve", AssetClasses.blankToNull(form.curve), java.sql.Types.VARCHAR).update();
  }

  // ---- Values changed in place

  private Map<String, String> row(String sql, String key, String kind) {
    return jdbc.sql(sql).param("key", key).query((rs, i) -> {
      Map<String, String> values = new TreeMap<>();
      for (int c = 1; c <= rs.getMetaData().getColumnCount(); c++) {
        values.put(rs.getMetaData().getColumnLabel(c), text(rs.getString(c)));
      }
      return values;
    }).optional().orElseThrow(() -> new NotFoundException(kind, key));
  }

  /** Takes changes over into what is there, if it still is what it was. */
  private static Map<String, String> taken(Map<String, String> now, List<FieldChange> changes, Set<String> known, String of) {
    Map<String, String> wanted = new LinkedHashMap<>(now);
    List<FieldProblem> problems = new ArrayList<>();
    for (FieldChange change : changes) {
      if (!known.contains(change.field)) {
        problems.add(new FieldProblem(change.field, "\"" + Codes.shortened(change.field) + "\" is not a field of " + of + " that can be changed here."));
      } else if (!now.getOrDefault(change.field, "").equals(change.was.strip())) {
        throw new Refusal("changed-meanwhile", "Somebody else has changed this meanwhile: it says \"" + now.getOrDefault(change.field, "") + "\" now, not \"" + change.was.strip()
            + "\". Nothing of yours was stored; look at it again.", change.field);
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
    return changes.size() == 1 ? "Changed " + changes.get(0).field.replace(PLATE, "").replace(EXTRA, "") + " of " + of : "Changed " + changes.size() + " values of " + of;
  }

  @Transactional
  public long changeSite(String code, List<FieldChange> changes, String by) {
    Map<String, String> now = row("SELECT name, km::text AS km, altitude::text AS altitude, zone FROM site WHERE code = :key FOR UPDATE", code, "site");
    now.put("km", plainNumber(now.get("km")));
    Map<String, String> wanted = taken(now, changes, Set.of("name", "km", "altitude", "zone"), "a site");
    List<FieldProblem> problems = new ArrayList<>();
    Codes.words("name", "a name", wanted.get("name"), problems);
    Double km = number("km", wanted.get("km"), 0, 40_000, problems);
    Double altitude = number("altitude", wanted.get("altitude"), -500, 9_000, problems);
    zone("zone", wanted.get("zone"), problems);
    FieldsException.throwIf(problems);
    long act = acts.begin(by, told(changes, code));
    jdbc.sql("UPDATE site SET name = :name, km = :km, altitude = :altitude, zone = :zone WHERE code = :code").param("name", wanted.get("name")).param("km", km)
        .param("altitude", altitude == null ? 0 : (int) Math.round(altitude)).param("zone", wanted.get("zone")).param("code", code).update();
    return act;
  }

  /** 3.1 and 10, not 3.1000 and 10.0. */
  static String plainNumber(String number) {
    return TypedQuantity.print(new Quantity(Double.parseDouble(number), Unit.ONE), Unit.ONE);
  }

  @Transactional
  public long changeMeasuring(String code, List<FieldChange> changes, String by) {
    Map<String, String> wanted = taken(row("SELECT title FROM measuring_installation WHERE code = :key FOR UPDATE", code, "measuring installation"), changes, Set.of("title"), "a measuring installation");
    List<FieldProblem> problems = new ArrayList<>();
    Codes.length("title", wanted.get("title"), problems);
    FieldsException.throwIf(problems);
    long act = acts.begin(by, told(changes, code));
    jdbc.sql("UPDATE measuring_installation SET title = :title WHERE code = :code").param("title", wanted.get("title")).param("code", code).update();
    return act;
  }

  @Transactional
  public long changePosition(String code, List<FieldChange> changes, String by) {
    Map<String, String> now = row("SELECT title, part_of AS \"partOf\", part, family, site, extra::text AS extra FROM position WHERE code = :key FOR UPDATE", code, "position");
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
      jdbc.sql("SELECT i.asset FROM installation i WHERE i.position = :code AND upper_inf(i.during)").param("code", code).query(String.class).optional()
          .ifPresent(asset -> problems.add(new FieldProblem("family", asset + " stands here; a position changes its family only while it is empty.")));
    }
    extra(changes, extra, problems);
    FieldsException.throwIf(problems);
    long act = acts.begin(by, told(changes, code));
    jdbc.sql("UPDATE position SET title = :title, part_of = :partOf, part = :part, family = :family, extra = :extra::jsonb WHERE code = :code").param("title", wanted.get("title"))
        .param("partOf", AssetClasses.blankToNull(wanted.get("partOf")), java.sql.Types.VARCHAR).param("part", AssetClasses.blankToNull(wanted.get("part")), java.sql.Types.VARCHAR)
        .param("family", wanted.get("family")).param("extra", CoreJson.mapper().writeValueAsString(extra)).param("code", code).update();
    return act;
  }

  private static void known(List<ExtraFields.ExtraField> fields, Map<String, String> extra, Map<String, String> now, Set<String> known) {
    fields.forEach(f -> {
      known.add(EXTRA + f.key());
      now.put(EXTRA + f.key(), extra.getOrDefault(f.key(), ""));
    });
  }

  private static void extra(List<FieldChange> changes, Map<String, String> extra, List<FieldProblem> problems) {
    changes.stream().filter(c -> c.field.startsWith(EXTRA)).forEach(c -> {
      if (c.now.length() > ExtraFields.LONGEST) {
        problems.add(new FieldProblem(c.field, "It has at most " + ExtraFields.LONGEST + " characters, not " + c.now.length() + "; shorten it."));
      } else if (c.now.isBlank()) {
        extra.remove(c.field.substring(EXTRA.length()));
      } else {
        extra.put(c.field.substring(EXTRA.length()), c.now.strip());
      }
    });
  }

  @Transactional
  public long changeAsset(String id, List<FieldChange> changes, String by) {
    Map<String, String> now = row("SELECT class, maker, model, serial, curve, nameplate::text AS nameplate, extra::text AS extra FROM asset WHERE id = :key FOR UPDATE", id, "asset");
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
    curve("curve", wanted.get("curve"), problems);
    sameDevice(id, wanted.get("maker"), wanted.get("model"), wanted.get("serial"), problems);
    Nameplate changed = plate(schema, plate, changes, problems);
    extra(changes, extra, problems);
    FieldsException.throwIf(problems);
    long act = acts.begin(by, told(changes, id));
    jdbc.sql("UPDATE asset SET maker = :maker, model = :model, serial = :serial, curve = :curve, nameplate = :plate::jsonb, extra = :extra::jsonb WHERE id = :id")
        .param("maker", wanted.get("maker")).param("model", wanted.get("model")).param("serial", wanted.get("serial"))
        .param("curve", AssetClasses.blankToNull(wanted.get("curve")), java.sql.Types.VARCHAR).param("plate", CoreJson.mapper().writeValueAsString(changed))
        .param("extra", CoreJson.mapper().writeValueAsString(extra)).param("id", id).update();
    return act;
  }

  /** A plate with some values changed. What was wrong with others before is not held against these. */
  private static Nameplate plate(PlateSchema schema, Nameplate plate, List<FieldChange> changes, List<FieldProblem> problems) {
    Map<String, Quantity> ratings = new TreeMap<>(plate.ratings());
    Map<String, String> texts = new TreeMap<>(plate.texts());
    for (FieldChange change : changes) {
      if (change.field.startsWith(PLATE)) {
        String key = change.field.substring(PLATE.length());
        ratings.remove(key);
        texts.remove(key);
        List<FieldProblem> found = new ArrayList<>();
        Nameplate one = new PlateSchema(schema.fields().stream().filter(f -> f.key().equals(key)).toList()).read(Map.of(key, change.now), found);
        problems.addAll(found);
        ratings.putAll(one.ratings());
        texts.putAll(one.texts());
      }
    }
    return new Nameplate(ratings, texts);
  }

  // ---- What stands where

  /**
   * What goes out of a position and what comes in.
   *
   * @param out        what stands there as far as the person knows; absent if it is empty
   * @param outRetired why it is retired with that; absent if it goes to the store
   * @param in         what comes in; absent if nothing does, or {@code inNew} says it
   * @param inFrom     where that stands now; absent if it comes from the store
   * @param inNew      a device that is not in the register yet
   * @param at         when; absent for now
   */
  record Exchange(String position, @Nullable String out, @Nullable String outRetired, @Nullable String in, @Nullable String inFrom, @Nullable AssetForm inNew,
      @Nullable Instant at, @Nullable String why) {
  }

  private record Place(long id, String asset, String position, Instant since) {
  }

  private List<Place> standing(String column, String value) {
    return jdbc.sql("SELECT id, asset, position, lower(during) FROM installation WHERE " + column + " = :value AND upper_inf(during) FOR UPDATE").param("value", value)
        .query((rs, i) -> new Place(rs.getLong(1), rs.getString(2), rs.getString(3), rs.getTimestamp(4).toInstant())).list();
  }

  @Transactional
  public long exchange(Exchange given, String by) {
    Map<String, String> position = row("SELECT family, retired_why AS retired FROM position WHERE code = :key FOR UPDATE", given.position, "position");
    if (!position.get("retired").isEmpty()) {
      throw new Refusal("retired", given.position + " is retired: nothing is installed there any more.", "position");
    }
    Place there = standing("position", given.position).stream().findFirst().orElse(null);
    if (!java.util.Objects.equals(there == null ? null : there.asset, AssetClasses.blankToNull(given.out))) {
      throw new Refusal("changed-meanwhile", there == null ? "Nothing stands at " + given.position + " any more. Look at it again; nothing of yours was stored."
          : there.asset + " stands at " + given.position + " now. Look at it again; nothing of yours was stored.", "out");
    }
    List<FieldProblem> problems = new ArrayList<>();
    Instant now = clock.instant();
    Instant at = given.at == null ? now : given.at;
    String in = given.inNew != null ? given.inNew.id : AssetClasses.blankToNull(given.in);
    if (in == null && there == null) {
      problems.add(new FieldProblem("in", "Say which device comes in."));
    }
    if (at.isAfter(now.plusSeconds(60))) {
      problems.add(new FieldProblem("at", "The time lies ahead; enter the exchange when it is done."));
    }
    leaves("out", there, at, problems);
    Place from = in == null || given.inNew != null ? null : comesIn(given, in, position.get("family"), at, problems);
    FieldsException.throwIf(problems);
    Nameplate plate = given.inNew == null ? null : checked(given.inNew, "inNew.");
    if (given.inNew != null) {
      fits(given.inNew.assetClass, given.position, position.get("family"), "inNew.assetClass", problems);
      FieldsException.throwIf(problems);
    }
    long act = acts.begin(by, told(given.position, there, in, from, given.why));
    if (given.inNew != null && plate != null) {
      insert(given.inNew, plate);
    }
    if (there != null) {
      end(there, at);
      jdbc.sql("UPDATE job SET status = 'withdrawn' WHERE asset = :asset AND status IN ('open', 'partly done')").param("asset", there.asset).update();
      if (given.outRetired != null) {
        retire(there.asset, at, given.outRetired);
      }
    }
    if (from != null) {
      end(from, at);
    }
    if (in != null) {
      jdbc.sql("INSERT INTO installation (asset, position, during) VALUES (:asset, :position, tstzrange(:at, NULL))").param("asset", in).param("position", given.position)
          .param("at", at.atOffset(java.time.ZoneOffset.UTC)).update();
      jdbc.sql("UPDATE job SET position = :position WHERE asset = :asset AND status IN ('open', 'partly done')").param("asset", in).param("position", given.position).update();
    }
    return act;
  }

  private static String told(String position, @Nullable Place out, @Nullable String in, @Nullable Place from, @Nullable String why) {
    String words = out == null ? "Installed " + in + " at " + position : in == null ? "Took " + out.asset + " out of " + position : "Exchanged " + out.asset + " for " + in + " at " + position;
    return words + (from == null ? "" : ", from " + from.position) + (why == null || why.isBlank() ? "" : ": " + why.strip());
  }

  private void end(Place place, Instant at) {
    jdbc.sql("UPDATE installation SET during = tstzrange(lower(during), :at) WHERE id = :id").param("at", at.atOffset(java.time.ZoneOffset.UTC)).param("id", place.id).update();
  }

  /** A device leaves a place after it came, after its last test there, and not in the middle of one. */
  private void leaves(String field, @Nullable Place place, Instant at, List<FieldProblem> problems) {
    if (place == null) {
      return;
    }
    // Whoever opens a run holds its job: after this nobody opens one until the exchange is done.
    jdbc.sql("SELECT id FROM job WHERE asset = :asset AND status <> 'done' ORDER BY id FOR UPDATE").param("asset", place.asset).query(Long.class).list();
    if (!at.isAfter(place.since)) {
      problems.add(new FieldProblem("at", place.asset + " came to " + place.position + " on " + day(place.since) + "; it leaves after that."));
    }
    jdbc.sql("SELECT max(finished_at) FROM run WHERE asset = :asset AND position = :position AND status = 'finished' AND finished_at > :at").param("asset", place.asset)
        .param("position", place.position).param("at", at.atOffset(java.time.ZoneOffset.UTC)).query(java.sql.Timestamp.class).optional()
        .ifPresent(tested -> problems.add(new FieldProblem("at", place.asset + " was tested at " + place.position + " on " + day(tested.toInstant()) + "; it leaves after that.")));
    if (jdbc.sql("SELECT EXISTS (SELECT 1 FROM run WHERE asset = :asset AND status = 'open')").param("asset", place.asset).query(Boolean.class).single()) {
      problems.add(new FieldProblem(field, "A run is open on " + place.asset + "; finish or abort it at the bench first."));
    }
  }

  private static String day(Instant instant) {
    return instant.toString().substring(0, 10);
  }

  private @Nullable Place comesIn(Exchange given, String in, String family, Instant at, List<FieldProblem> problems) {
    Map<String, String> asset = row("SELECT class, retired_why AS retired, do_not_use AS barred FROM asset WHERE id = :key FOR UPDATE", in, "asset");
    if (!asset.get("retired").isEmpty()) {
      problems.add(new FieldProblem("in", in + " is retired (" + asset.get("retired") + "); bring it back first, or take another."));
    }
    if (!asset.get("barred").isEmpty()) {
      problems.add(new FieldProblem("in", in + " is not to be used: " + asset.get("barred") + ". Take another, or clear that on its page."));
    }
    fits(asset.get("class"), given.position, family, "in", problems);
    Place from = standing("asset", in).stream().findFirst().orElse(null);
    if (from != null && from.position.equals(given.position)) {
      problems.add(new FieldProblem("in", in + " stands there already."));
    } else if (!java.util.Objects.equals(from == null ? null : from.position, AssetClasses.blankToNull(given.inFrom))) {
      throw new Refusal("changed-meanwhile", from == null ? in + " stands nowhere now. Look at it again; nothing of yours was stored."
          : in + " stands at " + from.position + "; say that it is taken from there.", "inFrom");
    }
    leaves("in", from, at, problems);
    return from;
  }

  private void fits(String assetClass, String position, String family, String field, List<FieldProblem> problems) {
    classes.find(assetClass).filter(c -> !c.family().equals(family)).ifPresent(c ->
        problems.add(new FieldProblem(field, position + " is for " + family + "; a device of the class " + c.title() + " is of the family " + c.family() + ".")));
  }

  private void retire(String asset, Instant at, String why) {
    List<FieldProblem> problems = new ArrayList<>();
    Codes.words("why", "a reason", text(why), problems);
    FieldsException.throwIf(problems);
    jdbc.sql("UPDATE asset SET retired_at = :at, retired_why = :why WHERE id = :id").param("at", at.atOffset(java.time.ZoneOffset.UTC)).param("why", why.strip()).param("id", asset).update();
  }

  /** Retires an asset that stands nowhere. */
  @Transactional
  public long retireAsset(String id, String why, String by) {
    Map<String, String> asset = row("SELECT retired_why AS retired FROM asset WHERE id = :key FOR UPDATE", id, "asset");
    List<FieldProblem> problems = new ArrayList<>();
    Codes.words("why", "a reason", text(why), problems);
    standing("asset", id).forEach(p -> problems.add(new FieldProblem("why", id + " stands at " + p.position + "; take it out there first.")));
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
    if (row("SELECT retired_why AS retired FROM " + (asset ? "asset WHERE id" : "position WHERE code") + " = :key FOR UPDATE", key, table).get("retired").isEmpty()) {
      throw new Refusal("not-retired", key + " is not retired.", "key");
    }
    long act = acts.begin(by, "Brought back " + key);
    jdbc.sql("UPDATE " + (asset ? "asset" : "position") + " SET retired_at = NULL, retired_why = NULL WHERE " + (asset ? "id" : "code") + " = :key").param("key", key).update();
    return act;
  }

  @Transactional
  public long retirePosition(String code, String why, String by) {
    Map<String, String> position = row("SELECT retired_why AS retired FROM position WHERE code = :key FOR UPDATE", code, "position");
    List<FieldProblem> problems = new ArrayList<>();
    Codes.words("why", "a reason", text(why), problems);
    standing("position", code).forEach(p -> problems.add(new FieldProblem("why", p.asset + " stands here; take it out first.")));
    if (!position.get("retired").isEmpty()) {
      problems.add(new FieldProblem("why", code + " is retired already."));
    }
    FieldsException.throwIf(problems);
    long act = acts.begin(by, "Retired the position " + code + ": " + why.strip());
    jdbc.sql("UPDATE position SET retired_at = :at, retired_why = :why WHERE code = :code").param("at", clock.instant().atOffset(java.time.ZoneOffset.UTC)).param("why", why.strip())
        .param("code", code).update();
    return act;
  }

  /** Bars an asset from use: everybody sees it wherever the asset is shown. */
  @Transactional
  public long bar(String id, String why, String by) {
    row("SELECT id FROM asset WHERE id = :key FOR UPDATE", id, "asset");
    List<FieldProblem> problems = new ArrayList<>();
    Codes.words("why", "a reason", text(why), problems);
    FieldsException.throwIf(problems);
    long act = acts.begin(by, "Not to be used: " + id + ", " + why.strip());
    jdbc.sql("UPDATE asset SET do_not_use = :why, do_not_use_since = :at, do_not_use_by = :by WHERE id = :id").param("why", why.strip())
        .param("at", clock.instant().atOffset(java.time.ZoneOffset.UTC)).param("by", by).param("id", id).update();
    return act;
  }

  @Transactional
  public long clear(String id, String by) {
    if (row("SELECT do_not_use AS barred FROM asset WHERE id = :key FOR UPDATE", id, "asset").get("barred").isEmpty()) {
      throw new Refusal("not-barred", id + " may be used already.", "key");
    }
    long act = acts.begin(by, "May be used again: " + id);
    jdbc.sql("UPDATE asset SET do_not_use = NULL, do_not_use_since = NULL, do_not_use_by = NULL WHERE id = :id").param("id", id).update();
    return act;
  }

  // ---- Taking away what was never used

  @Transactional
  public long removeSite(String code, String by) {
    String name = row("SELECT name FROM site WHERE code = :key FOR UPDATE", code, "site").get("name");
    refuse("SELECT count(*) FROM position WHERE site = :key", code, "%d positions are at this site; a site goes with the last of them.");
    refuse("SELECT count(*) FROM measuring_installation WHERE site = :key", code, "%d measuring installations are at this site; take them away first.");
    long act = acts.begin(by, "Took away the site " + name);
    files("site", code);
    jdbc.sql("DELETE FROM site WHERE code = :code").param("code", code).update();
    return act;
  }

  @Transactional
  public long removeMeasuring(String code, String by) {
    row("SELECT code FROM measuring_installation WHERE code = :key FOR UPDATE", code, "measuring installation");
    long act = acts.begin(by, "Took apart the measuring installation " + code);
    jdbc.sql("UPDATE position SET part_of = NULL, part = NULL WHERE part_of = :code").param("code", code).update();
    files("measuringInstallation", code);
    jdbc.sql("DELETE FROM measuring_installation WHERE code = :code").param("code", code).update();
    return act;
  }

  @Transactional
  public long removePosition(String code, String by) {
    row("SELECT code FROM position WHERE code = :key FOR UPDATE", code, "position");
    refuse("SELECT count(*) FROM run WHERE position = :key", code, "%d tests were made here; a position with records is kept. Retire it instead.");
    refuse("SELECT count(*) FROM installation WHERE position = :key", code, "%d devices have stood here; its history is kept. Retire it instead.");
    long act = acts.begin(by, "Took away the position " + code);
    files("position", code);
    jdbc.sql("DELETE FROM position WHERE code = :code").param("code", code).update();
    return act;
  }

  @Transactional
  public long removeAsset(String id, String by) {
    row("SELECT id FROM asset WHERE id = :key FOR UPDATE", id, "asset");
    refuse("SELECT count(*) FROM run WHERE asset = :key", id, "%d tests were made on it; an asset with records is kept. Retire it instead.");
    refuse("SELECT count(*) FROM installation WHERE asset = :key", id, "It has stood at %d places; its history is kept. Retire it instead.");
    long act = acts.begin(by, "Took away the asset " + id);
    files("asset", id);
    jdbc.sql("DELETE FROM asset WHERE id = :id").param("id", id).update();
    return act;
  }

  private void refuse(String count, String key, String words) {
    long there = jdbc.sql(count).param("key", key).query(Long.class).single();
    if (there > 0) {
      throw new Refusal("still-needed", String.format(java.util.Locale.ROOT, words, there), "key");
    }
  }

  private void files(String kind, String key) {
    jdbc.sql("DELETE FROM attachment WHERE kind = :kind AND key = :key").param("kind", kind).param("key", key).update();
  }

  /** An id for the next asset of a class: its mark and a number nobody has. */
  String nextId(String assetClass) {
    String mark = classes.one(assetClass).mark();
    Integer last = jdbc.sql("SELECT max(CAST(substring(id FROM :pattern) AS integer)) FROM asset WHERE id ~ :pattern").param("pattern", "^" + mark + "-([0-9]{1,8})$").query(Integer.class).optional().orElse(null);
    return mark + "-" + (last == null ? 1001 : last + 1);
  }

  /** A code for the next position of a kind at a site. */
  String nextPosition(String site, String mark) {
    String stem = site + "-" + mark + "-";
    Integer last = jdbc.sql("SELECT max(CAST(substring(code FROM :pattern) AS integer)) FROM position WHERE code ~ :pattern").param("pattern", "^" + stem + "([0-9]{1,6})$").query(Integer.class).optional().orElse(null);
    return stem + String.format(java.util.Locale.ROOT, "%02d", last == null ? 1 : last + 1);
  }
}
