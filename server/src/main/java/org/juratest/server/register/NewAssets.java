package org.juratest.server.register;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import org.jspecify.annotations.Nullable;
import org.juratest.core.procedure.Nameplate;
import org.juratest.core.register.FieldProblem;
import org.juratest.core.register.PlateField;
import org.juratest.core.register.PlateSchema;
import org.juratest.core.route.Route;
import org.juratest.core.route.RouteException;
import org.juratest.core.route.RoutePoint;
import org.juratest.formats.json.CoreJson;
import org.juratest.server.curve.Curves;
import org.juratest.server.web.FieldsException;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.stereotype.Service;
import org.springframework.transaction.annotation.Transactional;

/** Devices that come into the register. */
@Service
class NewAssets {

    private final JdbcClient jdbc;
    private final Acts acts;
    private final AssetClasses classes;
    private final RegisterRows rows;
    private final Curves curves;

    NewAssets(JdbcClient jdbc, Acts acts, AssetClasses classes, RegisterRows rows, Curves curves) {
        this.jdbc = jdbc;
        this.acts = acts;
        this.classes = classes;
        this.rows = rows;
        this.curves = curves;
    }

    /** A new asset; plate values as they were typed, by key. */
    record AssetForm(
            String id,
            String assetClass,
            String maker,
            String model,
            String serial,
            @Nullable String curve,
            Map<String, String> plate) {}

    /** Adds an asset that stands nowhere yet. */
    @Transactional
    public long add(AssetForm form, String by) {
        Nameplate plate = checked(form, "");
        long act = acts.begin(by, "Added the asset " + form.id + ", " + form.maker.strip() + " " + form.model.strip());
        insert(form, plate);
        return act;
    }

    /**
     * The plate of a form.
     *
     * @param prefix before the names of its fields where something is wrong
     * @throws FieldsException naming every field at fault
     */
    Nameplate checked(AssetForm form, String prefix) {
        List<FieldProblem> problems = new ArrayList<>();
        Codes.check("id", form.id, Codes.ASSET, problems);
        Codes.words("maker", "its maker", RegisterRows.text(form.maker), problems);
        Codes.words("model", "its model", RegisterRows.text(form.model), problems);
        Codes.words("serial", "its serial number", RegisterRows.text(form.serial), problems);
        if (problems.isEmpty() && form.id.equalsIgnoreCase(form.serial.strip())) {
            problems.add(new FieldProblem(
                    "id", "The id stays for good and is not the serial number: take one such as CBK-1007."));
        }
        curve("curve", RegisterRows.text(form.curve), problems);
        PlateSchema schema = classes.schemas().get(form.assetClass);
        Nameplate plate = new Nameplate(Map.of(), Map.of());
        if (schema == null) {
            problems.add(new FieldProblem("assetClass", "There is no class " + Codes.shortened(form.assetClass) + "."));
        } else {
            plate = schema.read(form.plate, problems);
            places(schema, plate, problems);
        }
        if (problems.isEmpty()) {
            rows.taken("id", form.id, problems);
            sameDevice(form.id, form.maker.strip(), form.model.strip(), form.serial.strip(), problems);
        }
        FieldsException.throwIf(problems.stream()
                .map(p -> new FieldProblem(prefix + p.field(), p.what()))
                .toList());
        return plate;
    }

    /** Says if there is no such curve; blank is none wanted. */
    void curve(String field, String curve, List<FieldProblem> problems) {
        if (!curve.isEmpty() && curves.library().byId(curve).isEmpty()) {
            problems.add(new FieldProblem(
                    field,
                    "There is no curve " + Codes.shortened(curve) + "; leave it empty, or bring the curve in first."));
        }
    }

    /** Says if a route names positions that are not there. */
    void places(PlateSchema schema, Nameplate plate, List<FieldProblem> problems) {
        schema.fields().stream()
                .filter(f -> f.kind() == PlateField.Kind.ROUTE && plate.texts().containsKey(f.key()))
                .forEach(f -> places(f, plate.texts().get(f.key()), problems));
    }

    private void places(PlateField field, String text, List<FieldProblem> problems) {
        List<String> codes;
        try {
            codes = Route.parse(text, field.choices()).points().stream()
                    .map(RoutePoint::position)
                    .filter(Objects::nonNull)
                    .distinct()
                    .toList();
        } catch (RouteException e) {
            // What is wrong with its lines is told by the schema.
            return;
        }
        List<String> known = codes.isEmpty()
                ? List.of()
                : jdbc.sql("SELECT code FROM position WHERE code IN (:codes)")
                        .param("codes", codes)
                        .query(String.class)
                        .list();
        codes.stream()
                .filter(c -> !known.contains(c))
                .findFirst()
                .ifPresent(c -> problems.add(new FieldProblem(
                        PlateSchema.PREFIX + field.key(),
                        field.label() + ": there is no position " + Codes.shortened(c)
                                + "; add it, or leave it out.")));
    }

    /** Says if the same device is in the register under another id. */
    void sameDevice(String id, String maker, String model, String serial, List<FieldProblem> problems) {
        jdbc.sql("SELECT id FROM asset WHERE maker = :maker AND model = :model AND serial = :serial AND id <> :id")
                .param("maker", maker)
                .param("model", model)
                .param("serial", serial)
                .param("id", id)
                .query(String.class)
                .optional()
                .ifPresent(other -> problems.add(new FieldProblem(
                        "serial",
                        maker + " " + model + ", no. " + serial + " is in the register already: " + other + ".")));
    }

    void insert(AssetForm form, Nameplate plate) {
        jdbc.sql("INSERT INTO asset (id, class, maker, model, serial, nameplate, curve) VALUES (:id, "
                        + ":class, :maker, :model, :serial, :plate::jsonb, :curve)")
                .param("id", form.id)
                .param("class", form.assetClass)
                .param("maker", form.maker.strip())
                .param("model", form.model.strip())
                .param("serial", form.serial.strip())
                .param("plate", CoreJson.mapper().writeValueAsString(plate))
                .param("curve", AssetClasses.blankToNull(form.curve), java.sql.Types.VARCHAR)
                .update();
    }

    /** An id for the next asset of a class: its mark and a number nobody has. */
    String nextId(String assetClass) {
        String mark = classes.one(assetClass).mark();
        Integer last = jdbc.sql(
                        "SELECT max(CAST(substring(id FROM :pattern) AS integer)) FROM asset WHERE id ~ :pattern")
                .param("pattern", "^" + mark + "-([0-9]{1,8})$")
                .query(Integer.class)
                .optional()
                .orElse(null);
        return mark + "-" + (last == null ? 1001 : last + 1);
    }
}
