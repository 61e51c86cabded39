package org.juratest.server.imports;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import org.juratest.core.register.PlateField;
import org.juratest.core.register.PlateSchema;
import org.juratest.server.register.AssetClasses.ClassView;
import org.juratest.server.register.ExtraFields.ExtraField;

/**
 * A column that the register knows.
 *
 * @param key what it is called in files that are handed out
 * @param label what people read
 * @param group what it belongs to: site, measuring installation, position, asset, nameplate, own fields
 */
record SheetField(String key, String label, String group) {

    static final String SITE = "site";
    static final String SITE_NAME = "site.name";
    static final String KM = "site.km";
    static final String ALTITUDE = "site.altitude";
    static final String ZONE = "site.zone";
    static final String MEASURING = "measuring";
    static final String MEASURING_TITLE = "measuring.title";
    static final String POSITION = "position";
    static final String POSITION_TITLE = "position.title";
    static final String FAMILY = "position.family";
    static final String PART = "position.part";
    static final String ASSET = "asset";
    static final String CLASS = "class";
    static final String MAKER = "maker";
    static final String MODEL = "model";
    static final String SERIAL = "serial";
    static final String CURVE = "curve";
    static final String SINCE = "since";
    static final String DO_NOT_USE = "doNotUse";
    static final String PLATE = PlateSchema.PREFIX;
    static final String POSITION_EXTRA = "position.extra.";
    static final String ASSET_EXTRA = "asset.extra.";

    private static final List<SheetField> FIXED = List.of(
            new SheetField(SITE, "Site code", "Site"),
            new SheetField(SITE_NAME, "Name of the site", "Site"),
            new SheetField(KM, "km along the line", "Site"),
            new SheetField(ALTITUDE, "Altitude in m", "Site"),
            new SheetField(ZONE, "Time zone", "Site"),
            new SheetField(MEASURING, "Measuring installation", "Measuring installation"),
            new SheetField(MEASURING_TITLE, "Title of the measuring installation", "Measuring installation"),
            new SheetField(POSITION, "Position code", "Position"),
            new SheetField(POSITION_TITLE, "Title of the position", "Position"),
            new SheetField(FAMILY, "Family", "Position"),
            new SheetField(PART, "Part of the measuring installation", "Position"),
            new SheetField(ASSET, "Asset id", "Asset"),
            new SheetField(CLASS, "Class", "Asset"),
            new SheetField(MAKER, "Maker", "Asset"),
            new SheetField(MODEL, "Model", "Asset"),
            new SheetField(SERIAL, "Serial number", "Asset"),
            new SheetField(CURVE, "Curve", "Asset"),
            new SheetField(SINCE, "Installed since", "Asset"),
            new SheetField(DO_NOT_USE, "Not to be used, because", "Asset"));
    /** What others call the same things. */
    private static final Map<String, String> ALSO = Map.ofEntries(
            Map.entry("sitecode", SITE),
            Map.entry("location", SITE_NAME),
            Map.entry("sitename", SITE_NAME),
            Map.entry("positioncode", POSITION),
            Map.entry("tag", POSITION),
            Map.entry("assetid", ASSET),
            Map.entry("assetclass", CLASS),
            Map.entry("manufacturer", MAKER),
            Map.entry("type", MODEL),
            Map.entry("serialnumber", SERIAL),
            Map.entry("serialno", SERIAL),
            Map.entry("sn", SERIAL),
            Map.entry("installed", SINCE),
            Map.entry("installedon", SINCE),
            Map.entry("description", POSITION_TITLE),
            Map.entry("title", POSITION_TITLE),
            Map.entry("chainage", KM),
            Map.entry("km", KM),
            Map.entry("altitude", ALTITUDE));

    /** Every column there can be, plates and own fields of all classes and sites once each. */
    static Map<String, SheetField> all(List<ClassView> classes, Map<String, Map<String, ExtraField>> ofPositions) {
        Map<String, SheetField> fields = new LinkedHashMap<>();
        FIXED.forEach(f -> fields.put(f.key, f));
        for (ClassView c : classes) {
            for (PlateField p : c.fields()) {
                fields.putIfAbsent(
                        PLATE + p.key(),
                        new SheetField(
                                PLATE + p.key(),
                                p.label()
                                        + (p.unit() == null || p.unit().symbol().isEmpty()
                                                ? ""
                                                : " (" + p.unit().symbol() + ")"),
                                "Nameplate"));
            }
        }
        ofPositions.values().forEach(site -> site.values()
                .forEach(f -> fields.putIfAbsent(
                        POSITION_EXTRA + f.key(),
                        new SheetField(POSITION_EXTRA + f.key(), f.label(), "Own fields of positions"))));
        classes.forEach(c -> c.extra()
                .forEach(f -> fields.putIfAbsent(
                        ASSET_EXTRA + f.key(),
                        new SheetField(ASSET_EXTRA + f.key(), f.label(), "Own fields of assets"))));
        return fields;
    }

    /** Fields by the titles of columns, where a title says clearly enough which it is; blank where it does not. */
    static List<String> guessed(List<String> titles, Map<String, SheetField> fields) {
        Map<String, String> byTitle = new HashMap<>(ALSO);
        fields.values().forEach(f -> byTitle.putIfAbsent(plain(f.label), f.key));
        fields.values().stream()
                .filter(f -> f.key.startsWith(PLATE))
                .forEach(f -> byTitle.putIfAbsent(plain(f.key.substring(PLATE.length())), f.key));
        fields.keySet().forEach(key -> byTitle.put(plain(key), key));
        List<String> guessed = new ArrayList<>();
        for (String title : titles) {
            String key = fields.containsKey(title) ? title : byTitle.getOrDefault(plain(title), "");
            guessed.add(guessed.contains(key) || !fields.containsKey(key) ? "" : key);
        }
        return guessed;
    }

    private static String plain(String title) {
        return title.toLowerCase(Locale.ROOT).replaceAll("[^\\p{L}\\p{N}]", "");
    }
}
