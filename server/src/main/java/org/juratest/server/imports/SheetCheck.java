package org.juratest.server.imports;

import static org.juratest.server.imports.SheetField.ALTITUDE;
import static org.juratest.server.imports.SheetField.ASSET;
import static org.juratest.server.imports.SheetField.ASSET_EXTRA;
import static org.juratest.server.imports.SheetField.CLASS;
import static org.juratest.server.imports.SheetField.CURVE;
import static org.juratest.server.imports.SheetField.DO_NOT_USE;
import static org.juratest.server.imports.SheetField.FAMILY;
import static org.juratest.server.imports.SheetField.KM;
import static org.juratest.server.imports.SheetField.MAKER;
import static org.juratest.server.imports.SheetField.MEASURING;
import static org.juratest.server.imports.SheetField.MEASURING_TITLE;
import static org.juratest.server.imports.SheetField.MODEL;
import static org.juratest.server.imports.SheetField.PART;
import static org.juratest.server.imports.SheetField.PLATE;
import static org.juratest.server.imports.SheetField.POSITION;
import static org.juratest.server.imports.SheetField.POSITION_EXTRA;
import static org.juratest.server.imports.SheetField.POSITION_TITLE;
import static org.juratest.server.imports.SheetField.SERIAL;
import static org.juratest.server.imports.SheetField.SINCE;
import static org.juratest.server.imports.SheetField.SITE;
import static org.juratest.server.imports.SheetField.SITE_NAME;
import static org.juratest.server.imports.SheetField.ZONE;

import java.time.DateTimeException;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.TreeMap;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import org.juratest.core.procedure.Nameplate;
import org.juratest.core.quantity.Quantity;
import org.juratest.core.quantity.Unit;
import org.juratest.core.register.FieldProblem;
import org.juratest.core.register.PlateSchema;
import org.juratest.core.register.TypedQuantity;
import org.juratest.server.family.Families;
import org.juratest.server.register.AssetClasses.ClassView;
import org.juratest.server.register.Codes;
import org.juratest.server.register.ExtraFields;

/**
 * Reads rows of a table against the register as it is, and says what would change and what is wrong, by line and
 * column. A blank cell changes nothing. One row tells of a site, a position in it, and the device that stands there, or
 * of any of these alone.
 */
final class SheetCheck {

    private static final Pattern DAY_FIRST = Pattern.compile("(\\d{1,2})\\.(\\d{1,2})\\.(\\d{4})");

    private static final int FIRST_ID = 1001;

    private final Known known;
    private final Instant now;
    private final Set<String> named;
    private final String usualZone;
    private final Map<String, Known.Site> sites = new LinkedHashMap<>();
    private final Map<String, Known.Measuring> measuring = new LinkedHashMap<>();
    private final Map<String, Known.Position> positions = new LinkedHashMap<>();
    private final Map<String, Known.Asset> assets = new LinkedHashMap<>();
    private final List<Placing> placings = new ArrayList<>();
    private final Map<String, Long> lineOfPosition = new HashMap<>();
    private final Map<String, Long> lineOfAsset = new HashMap<>();
    private final Map<String, String> newDevices = new HashMap<>();
    private final Map<String, Integer> lastId = new HashMap<>();
    private final Set<String> sitesAlike = new HashSet<>();
    private final Set<String> measuringAlike = new HashSet<>();
    private final List<Problem> problems = new ArrayList<>();
    private long positionsAlike;
    private long assetsAlike;
    private long line;
    private Map<String, String> cells = Map.of();

    /** @param named ids of assets that the table names anywhere: none of them is given to another */
    SheetCheck(Known known, Instant now, Set<String> named) {
        this.known = known;
        this.now = now;
        this.named = named;
        this.usualZone = known.sites().values().stream()
                .min(java.util.Comparator.comparingDouble(Known.Site::km))
                .map(Known.Site::zone)
                .orElse("UTC");
    }

    /** Something wrong in a cell; the field is blank where it is the whole row. */
    record Problem(long line, String field, String what) {}

    /** A device that comes to a position, with what leaves for it. */
    record Placing(
            long line, String asset, String position, Instant at, @Nullable String leaves, @Nullable String from) {}

    List<Problem> problems() {
        return problems;
    }

    Map<String, Known.Site> sites() {
        return sites;
    }

    Map<String, Known.Measuring> measuring() {
        return measuring;
    }

    Map<String, Known.Position> positions() {
        return positions;
    }

    Map<String, Known.Asset> assets() {
        return assets;
    }

    List<Placing> placings() {
        return placings;
    }

    /** Rows told of that are as they were. */
    long sitesAlike() {
        return sitesAlike.stream().filter(s -> !sites.containsKey(s)).count();
    }

    long measuringAlike() {
        return measuringAlike.stream().filter(m -> !measuring.containsKey(m)).count();
    }

    long positionsAlike() {
        return positionsAlike;
    }

    long assetsAlike() {
        return assetsAlike;
    }

    private void wrong(String field, String what) {
        problems.add(new Problem(line, field, what));
    }

    private String cell(String field) {
        return cells.getOrDefault(field, "");
    }

    private String or(String field, String there) {
        String given = cell(field);
        return given.isEmpty() ? there : given;
    }

    /** Takes a row: cells by field, stripped, blank ones left out. */
    void row(long number, Map<String, String> given) {
        line = number;
        cells = given;
        int before = problems.size();
        String site = site();
        String position = position(site);
        String asset = asset();
        if (site.isEmpty() && position.isEmpty() && asset == null && problems.size() == before) {
            wrong(
                    "",
                    "The row tells of no site, no position and no asset: fill in one of their codes, or take the "
                            + "row out.");
        }
        if (asset != null && !position.isEmpty()) {
            place(asset, position);
        } else if (!cell(SINCE).isEmpty() && asset != null) {
            wrong(SINCE, "It says since when, but not where; fill in the position.");
        }
    }

    // ---- Sites

    private String site() {
        String code = cell(SITE);
        String position = cell(POSITION);
        if (code.isEmpty()) {
            Known.Position there = known.positions().getOrDefault(position, positions.get(position));
            if (there == null && !position.isEmpty()) {
                wrong(SITE, position + " is new: say at which site it is.");
            }
            return there == null ? "" : there.site();
        }
        Known.Site earlier = sites.getOrDefault(code, known.sites().get(code));
        boolean fresh = earlier == null;
        if (fresh) {
            code("", code, Codes.SITE, SITE);
            if (cell(SITE_NAME).isEmpty()) {
                wrong(
                        SITE_NAME,
                        "The site " + shortened(code) + " is new: it needs a name. If it is not, correct its code.");
            }
            if (cell(KM).isEmpty()) {
                wrong(KM, "The site " + shortened(code) + " is new: say at which km of the line it is.");
            }
        }
        length(SITE_NAME, 120);
        double km = number(KM, earlier == null ? 0 : earlier.km(), 0, 40_000);
        int altitude = (int) Math.round(number(ALTITUDE, earlier == null ? 0 : earlier.altitude(), -500, 9_000));
        String zone = or(ZONE, earlier == null ? usualZone : earlier.zone());
        try {
            ZoneId.of(zone);
        } catch (DateTimeException e) {
            wrong(ZONE, "\"" + shortened(zone) + "\" is not a time zone; use a name such as CET, UTC or Etc/GMT-1.");
        }
        Known.Site wanted =
                new Known.Site(code, or(SITE_NAME, earlier == null ? "" : earlier.name()), km, altitude, zone);
        Known.Site there = known.sites().get(code);
        if (sites.containsKey(code) && !wanted.equals(earlier)) {
            wrong(
                    SITE,
                    "An earlier row says something else of the site " + code
                            + "; say the same in every row, or say it once.");
        } else if (wanted.equals(there)) {
            sitesAlike.add(code);
        } else {
            sites.put(code, wanted);
        }
        return code;
    }

    // ---- Positions

    private String position(String site) {
        String code = cell(POSITION);
        String whole = measuring(site);
        if (code.isEmpty()) {
            List.of(POSITION_TITLE, FAMILY, PART).stream()
                    .filter(f -> !cell(f).isEmpty())
                    .forEach(f -> wrong(f, "There is no position in this row that this could be said of."));
            return "";
        }
        Long earlier = lineOfPosition.putIfAbsent(code, line);
        if (earlier != null) {
            wrong(POSITION, code + " is in line " + earlier + " already; a position has one row.");
            return code;
        }
        Known.Position there = known.positions().get(code);
        ClassView assetClass = known.classes().get(classOf());
        String family = or(FAMILY, there != null ? there.family() : assetClass == null ? "" : assetClass.family());
        if (there == null) {
            code("position ", code, Codes.POSITION, POSITION);
            if (known.assets().containsKey(code) || known.measuring().containsKey(code)) {
                wrong(
                        POSITION,
                        "There is an asset or a measuring installation " + code
                                + " already; a position needs a code of its own.");
            }
            if (family.isEmpty() && classOf().isEmpty()) {
                wrong(
                        FAMILY,
                        code + " is new and empty: say for which family it is, one of "
                                + String.join(", ", Families.ALL) + ".");
            }
        } else if (!site.equals(there.site())) {
            wrong(
                    SITE,
                    code + " is at " + there.site()
                            + "; a position does not move. Correct the site, or give the position another code.");
        }
        if (!family.isEmpty() && !Families.ALL.contains(family)) {
            wrong(
                    FAMILY,
                    "A family is one of " + String.join(", ", Families.ALL) + "; not \"" + shortened(family) + "\".");
        } else if (there != null && !there.family().equals(family)) {
            wrong(FAMILY, code + " is for " + there.family() + "; that is changed on its page, while it is empty.");
        }
        if (there != null && there.retired()) {
            wrong(POSITION, code + " is retired; bring it back on its page first, or take the row out.");
        }
        length(POSITION_TITLE, 120);
        length(PART, 120);
        Map<String, String> extra = extra(
                POSITION_EXTRA,
                there == null ? Map.of() : there.extra(),
                known.siteFields().getOrDefault(site, Map.of()).keySet(),
                "site " + site);
        Known.Position wanted = new Known.Position(
                code,
                site,
                family,
                or(POSITION_TITLE, there == null ? "" : there.title()),
                whole.isEmpty() && there != null ? there.partOf() : emptyToNull(whole),
                cell(PART).isEmpty() ? there == null ? null : there.part() : cell(PART),
                extra,
                false);
        if (wanted.equals(there)) {
            positionsAlike++;
        } else {
            positions.put(code, wanted);
        }
        return code;
    }

    private String measuring(String site) {
        String code = cell(MEASURING);
        if (code.isEmpty()) {
            if (!cell(MEASURING_TITLE).isEmpty()) {
                wrong(
                        MEASURING_TITLE,
                        "There is no measuring installation in this row that this could be the title of.");
            }
            return "";
        }
        Known.Measuring there = known.measuring().get(code);
        Known.Measuring earlier = measuring.getOrDefault(code, there);
        length(MEASURING_TITLE, 120);
        if (there == null) {
            code("measuring installation ", code, Codes.POSITION, MEASURING);
            if (known.positions().containsKey(code) || known.assets().containsKey(code)) {
                wrong(
                        MEASURING,
                        "There is a position or an asset " + code
                                + " already; a measuring installation needs a code of its own.");
            }
        }
        if (earlier != null && !earlier.site().equals(site)) {
            wrong(
                    MEASURING,
                    code + " is at " + earlier.site() + ", this row at " + site
                            + "; the parts of a measuring installation are at one site.");
        }
        Known.Measuring wanted =
                new Known.Measuring(code, site, or(MEASURING_TITLE, earlier == null ? "" : earlier.title()));
        if (measuring.containsKey(code)
                && !wanted.title().equals(measuring.get(code).title())) {
            wrong(
                    MEASURING_TITLE,
                    "An earlier row gives " + code + " another title; say the same in every row, or say it once.");
        } else if (wanted.equals(there)) {
            measuringAlike.add(code);
        } else {
            measuring.put(code, wanted);
        }
        return code;
    }

    // ---- Assets

    private String classOf() {
        Known.Asset there = known.assets().get(cell(ASSET));
        return or(CLASS, there == null ? "" : there.assetClass());
    }

    private boolean tellsOfAsset() {
        return cells.keySet().stream()
                .anyMatch(f -> f.equals(ASSET)
                        || f.equals(CLASS)
                        || f.equals(MAKER)
                        || f.equals(MODEL)
                        || f.equals(SERIAL)
                        || f.equals(CURVE)
                        || f.equals(DO_NOT_USE)
                        || f.startsWith(PLATE)
                        || f.startsWith(ASSET_EXTRA));
    }

    private @Nullable String asset() {
        if (!tellsOfAsset()) {
            if (!cell(SINCE).isEmpty()) {
                wrong(SINCE, "There is no asset in this row that this could be said of.");
            }
            return null;
        }
        String device = Known.device(cell(MAKER), cell(MODEL), cell(SERIAL));
        String id = cell(ASSET).isEmpty() ? known.devices().getOrDefault(device, "") : cell(ASSET);
        Known.Asset there = known.assets().get(id);
        String assetClass = or(CLASS, there == null ? "" : there.assetClass());
        ClassView view = known.classes().get(assetClass);
        if (there == null && !required(id, assetClass)) {
            return null;
        }
        if (view == null) {
            wrong(
                    CLASS,
                    "There is no class \"" + shortened(assetClass) + "\"; use the code of one, such as "
                            + like(assetClass) + ", or add the class first.");
            return null;
        }
        if (there != null && !there.assetClass().equals(assetClass)) {
            wrong(CLASS, id + " is of the class " + there.assetClass() + "; an asset does not change its class.");
            return null;
        }
        if (id.isEmpty()) {
            id = nextId(view.mark());
        }
        Long earlier = lineOfAsset.putIfAbsent(id, line);
        if (earlier != null) {
            wrong(ASSET, id + " is in line " + earlier + " already; an asset has one row.");
            return null;
        }
        if (there == null && id.equalsIgnoreCase(cell(SERIAL))) {
            wrong(
                    ASSET,
                    "The id stays for good and is not the serial number: use one such as " + view.mark()
                            + "-1001, or leave it empty to get one.");
        }
        if (there != null && there.retired()) {
            wrong(ASSET, id + " is retired; bring it back on its page first, or take the row out.");
        }
        checkTexts();
        Known.Asset wanted = wanted(id, view, there);
        String twin = newDevices.putIfAbsent(Known.device(wanted.maker(), wanted.model(), wanted.serial()), id);
        String known1 = known.devices().get(Known.device(wanted.maker(), wanted.model(), wanted.serial()));
        if (twin != null) {
            wrong(
                    SERIAL,
                    "The same maker, model and serial number are in line " + lineOfAsset.get(twin) + " already, as "
                            + twin + ".");
        } else if (known1 != null && !known1.equals(id)) {
            wrong(
                    SERIAL,
                    "This device is in the register already, as " + known1 + "; use that id, or correct the number.");
        }
        if (wanted.equals(there)) {
            assetsAlike++;
        } else {
            assets.put(id, wanted);
        }
        return id;
    }

    /** Codes of classes that a wrong one may have meant; any one where none comes near. */
    private String like(String code) {
        String word = code.toLowerCase(Locale.ROOT);
        List<String> near = known.classes().values().stream()
                .filter(c -> c.code().contains(word)
                        || word.contains(c.code())
                        || c.title().toLowerCase(Locale.ROOT).contains(word)
                        || c.mark().equalsIgnoreCase(word))
                .map(ClassView::code)
                .sorted()
                .limit(3)
                .toList();
        return near.isEmpty()
                ? known.classes().keySet().stream().sorted().findFirst().orElse("lv-breaker")
                : String.join(" or ", near);
    }

    /** What a new asset needs besides its plate. */
    private boolean required(String id, String assetClass) {
        int before = problems.size();
        if (!id.isEmpty()) {
            code("asset ", id, Codes.ASSET, ASSET);
            if (known.positions().containsKey(id) || known.measuring().containsKey(id)) {
                wrong(
                        ASSET,
                        "There is a position or a measuring installation " + id
                                + " already; an asset needs an id of its own.");
            }
        }
        String which = id.isEmpty() ? "The asset" : shortened(id);
        if (assetClass.isEmpty()) {
            wrong(CLASS, which + " is new: say its class, by its code.");
        }
        List.of(MAKER, MODEL, SERIAL).stream()
                .filter(f -> cell(f).isEmpty())
                .forEach(f ->
                        wrong(f, which + " is new: its " + (f.equals(SERIAL) ? "serial number" : f) + " is missing."));
        return problems.size() == before;
    }

    private void checkTexts() {
        length(MAKER, 120);
        length(MODEL, 120);
        length(SERIAL, 120);
        length(DO_NOT_USE, 120);
        if (!cell(CURVE).isEmpty() && !known.curves().contains(cell(CURVE))) {
            wrong(
                    CURVE,
                    "There is no curve \"" + shortened(cell(CURVE))
                            + "\"; leave it empty, or bring the curve in first.");
        }
    }

    private Known.Asset wanted(String id, ClassView view, Known.@Nullable Asset there) {
        Nameplate before = there == null ? new Nameplate(Map.of(), Map.of()) : there.plate();
        Map<String, String> typed = new LinkedHashMap<>();
        cells.forEach((field, text) -> {
            if (field.startsWith(PLATE)) {
                typed.put(field.substring(PLATE.length()), text);
            }
        });
        Nameplate plate = plate(new PlateSchema(view.fields()), before, typed, there == null);
        Map<String, String> extra = extra(
                ASSET_EXTRA,
                there == null ? Map.of() : there.extra(),
                view.extra().stream().map(ExtraFields.ExtraField::key).collect(java.util.stream.Collectors.toSet()),
                "class " + view.code());
        return new Known.Asset(
                id,
                view.code(),
                or(MAKER, there == null ? "" : there.maker()),
                or(MODEL, there == null ? "" : there.model()),
                or(SERIAL, there == null ? "" : there.serial()),
                cell(CURVE).isEmpty() ? there == null ? null : there.curve() : cell(CURVE),
                plate,
                extra,
                cell(DO_NOT_USE).isEmpty() ? there == null ? null : there.doNotUse() : cell(DO_NOT_USE),
                false,
                there == null ? null : there.position(),
                there == null ? null : there.since());
    }

    /**
     * A plate with the cells laid over it; what a plate that is there lacks or has too much is not held against the
     * row.
     */
    private Nameplate plate(PlateSchema schema, Nameplate before, Map<String, String> typed, boolean whole) {
        if (typed.isEmpty() && !whole) {
            return before;
        }
        List<FieldProblem> found = new ArrayList<>();
        PlateSchema read = whole
                ? schema
                : new PlateSchema(schema.fields().stream()
                        .filter(f -> typed.containsKey(f.key()))
                        .toList());
        Nameplate given = read.read(typed, found);
        found.forEach(p -> wrong(p.field(), p.what()));
        Map<String, Quantity> ratings = new TreeMap<>(before.ratings());
        Map<String, String> texts = new TreeMap<>(before.texts());
        typed.keySet().forEach(key -> {
            ratings.remove(key);
            texts.remove(key);
        });
        ratings.putAll(given.ratings());
        texts.putAll(given.texts());
        return new Nameplate(ratings, texts);
    }

    private Map<String, String> extra(String prefix, Map<String, String> there, Set<String> fields, String owner) {
        Map<String, String> extra = new TreeMap<>(there);
        cells.forEach((field, text) -> {
            if (field.startsWith(prefix)) {
                String key = field.substring(prefix.length());
                if (!fields.contains(key)) {
                    wrong(
                            field,
                            "The " + owner + " has no own field \"" + key
                                    + "\"; add it there first, or empty the cell.");
                } else if (text.length() > ExtraFields.LONGEST) {
                    wrong(
                            field,
                            "It has at most " + ExtraFields.LONGEST + " characters, not " + text.length()
                                    + "; shorten it.");
                } else if (text.chars().anyMatch(c -> c < ' ')) {
                    wrong(field, "It is one line without tabs; take the line breaks out.");
                } else {
                    extra.put(key, text);
                }
            }
        });
        return extra;
    }

    private String nextId(String mark) {
        int next = lastId.computeIfAbsent(mark, m -> {
                    Pattern numbered = Pattern.compile(Pattern.quote(m) + "-(\\d{1,8})");
                    return Stream.concat(known.assets().keySet().stream(), named.stream())
                            .map(numbered::matcher)
                            .filter(Matcher::matches)
                            .mapToInt(n -> Integer.parseInt(n.group(1)))
                            .max()
                            .orElse(FIRST_ID - 1);
                })
                + 1;
        lastId.put(mark, next);
        return mark + "-" + next;
    }

    // ---- What stands where

    private void place(String asset, String position) {
        Known.Asset before = known.assets().get(asset);
        String zone = zone(position);
        Instant since = since(zone);
        if (before != null && position.equals(before.position())) {
            if (since != null && !since.equals(before.since())) {
                wrong(
                        SINCE,
                        asset + " stands there since "
                                + LocalDate.ofInstant(Objects.requireNonNull(before.since()), ZoneId.of(zone))
                                + "; a table does not change that. Empty the cell, or say the same.");
            }
            return;
        }
        Known.Asset inside = standing().get(position);
        Known.Position place =
                positions.getOrDefault(position, known.positions().get(position));
        ClassView view = known.classes()
                .get(
                        assets.containsKey(asset)
                                ? assets.get(asset).assetClass()
                                : before == null ? "" : before.assetClass());
        if (place != null && view != null && !place.family().equals(view.family())) {
            wrong(
                    CLASS,
                    position + " is for " + place.family() + "; a device of the class " + view.code()
                            + " is of the family " + view.family() + ".");
        }
        if (before != null && before.doNotUse() != null) {
            wrong(
                    ASSET,
                    asset + " is not to be used: " + before.doNotUse()
                            + ". It is not installed anywhere until that is cleared on its page.");
        }
        boolean moved = before != null && before.position() != null;
        if ((moved || inside != null) && since == null) {
            wrong(
                    SINCE,
                    (moved ? asset + " stands at " + before.position() : inside.id() + " stands at " + position)
                            + " in the register; say since when " + asset + " is at " + position
                            + ", or correct the row.");
            return;
        }
        Instant at = since == null ? now : since;
        leaves(before, at);
        leaves(inside, at);
        for (String code : List.of(asset, position)) {
            Instant until = known.freeSince().get(code);
            if (until != null && until.isAfter(at)) {
                wrong(
                        SINCE,
                        (code.equals(asset) ? asset + " stood elsewhere" : "Another device stood at " + position)
                                + " until " + until.toString().substring(0, 10) + "; give a later day.");
            }
        }
        placings.add(new Placing(
                line, asset, position, at, inside == null ? null : inside.id(), moved ? before.position() : null));
    }

    private @Nullable Map<String, Known.Asset> byPosition;

    private Map<String, Known.Asset> standing() {
        if (byPosition == null) {
            byPosition = new HashMap<>();
            known.assets().values().stream()
                    .filter(a -> a.position() != null)
                    .forEach(a -> byPosition.put(a.position(), a));
        }
        return byPosition;
    }

    private void leaves(Known.@Nullable Asset asset, Instant at) {
        if (asset != null && asset.position() != null) {
            if (asset.since() != null && !at.isAfter(asset.since())) {
                wrong(
                        SINCE,
                        asset.id() + " came to " + asset.position() + " on "
                                + asset.since().toString().substring(0, 10) + "; it leaves after that.");
            }
            Instant tested = known.tested().get(asset.id());
            if (tested != null && tested.isAfter(at)) {
                wrong(
                        SINCE,
                        asset.id() + " was tested at " + asset.position() + " on "
                                + tested.toString().substring(0, 10) + "; it leaves after that.");
            }
            if (known.busy().contains(asset.id())) {
                wrong(ASSET, "A run is open on " + asset.id() + "; finish or abort it at the bench first.");
            }
        }
    }

    private String zone(String position) {
        Known.Position place =
                positions.getOrDefault(position, known.positions().get(position));
        Known.Site site = place == null
                ? null
                : sites.getOrDefault(place.site(), known.sites().get(place.site()));
        try {
            return site == null ? usualZone : ZoneId.of(site.zone()).getId();
        } catch (DateTimeException e) {
            // PastJob where the zone stands.
            return usualZone;
        }
    }

    private @Nullable Instant since(String zone) {
        String text = cell(SINCE);
        if (text.isEmpty()) {
            return null;
        }
        Instant since = null;
        try {
            Matcher day = DAY_FIRST.matcher(text);
            if (day.matches()) {
                since = LocalDate.of(
                                Integer.parseInt(day.group(3)),
                                Integer.parseInt(day.group(2)),
                                Integer.parseInt(day.group(1)))
                        .atStartOfDay(ZoneId.of(zone))
                        .toInstant();
            } else {
                since = text.length() == 10
                        ? LocalDate.parse(text).atStartOfDay(ZoneId.of(zone)).toInstant()
                        : Instant.parse(text);
            }
        } catch (DateTimeException e) {
            wrong(SINCE, "\"" + shortened(text) + "\" is not a day; write it as 2026-11-27 or 27.11.2026.");
        }
        if (since != null && since.isAfter(now)) {
            wrong(SINCE, "The day lies ahead; only what stands there now is imported.");
        }
        return since;
    }

    // ---- Cells

    private void code(String what, String code, Codes.Shape shape, String field) {
        if (!shape.pattern().matcher(code).matches()) {
            wrong(
                    field,
                    "\"" + shortened(code) + "\" does not do as a " + what + "code: it has " + shape.words() + ".");
        }
    }

    private void length(String field, int most) {
        String text = cell(field);
        if (text.length() > most) {
            wrong(field, "It has at most " + most + " characters, not " + text.length() + "; shorten it.");
        } else if (text.chars().anyMatch(c -> c < ' ')) {
            wrong(field, "It is one line without tabs; take the line breaks out.");
        }
    }

    private double number(String field, double there, double least, double most) {
        String text = cell(field);
        if (text.isEmpty()) {
            return there;
        }
        try {
            double value = TypedQuantity.parse(text, Unit.ONE).value();
            if (value < least || value > most) {
                wrong(field, "It is " + (long) least + " to " + (long) most + ", not " + shortened(text) + ".");
            }
            return value;
        } catch (IllegalArgumentException e) {
            wrong(
                    field,
                    Character.toUpperCase(e.getMessage().charAt(0))
                            + e.getMessage().substring(1) + ".");
            return there;
        }
    }

    private static String shortened(String text) {
        return text.length() <= 40 ? text : text.substring(0, 39) + "\u2026";
    }

    private static @Nullable String emptyToNull(String text) {
        return text.isEmpty() ? null : text;
    }
}
