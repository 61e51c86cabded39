package org.juratest.server.curve;

import java.time.OffsetDateTime;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;
import org.juratest.core.curve.CurveLibrary;
import org.juratest.core.curve.CurveModel;
import org.juratest.core.curve.ElementShape;
import org.juratest.core.curve.InverseTimeCurve;
import org.juratest.core.curve.TimeCurrentBand;
import org.juratest.core.register.FieldProblem;
import org.juratest.core.run.Refusal;
import org.juratest.formats.curve.CurvePoints;
import org.juratest.formats.json.CoreJson;
import org.juratest.server.web.FieldsException;
import org.juratest.server.web.NotFoundException;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.stereotype.Service;
import org.springframework.transaction.annotation.Transactional;

/** The curve library as people see it: what there is, which devices go by it, their own models. */
@Service
class CurveModels {

    private static final Pattern ID = Pattern.compile("[a-z0-9](?:[a-z0-9-]{1,58}[a-z0-9])");
    private static final Pattern KEY = Pattern.compile("[a-z][A-Za-z0-9]{1,40}");
    private static final String RATED = "ratedCurrent";
    private static final int MOST_TOLD = 12;
    private static final int MOST_PARTS = 8;
    private static final double WIDE_CURRENT = 100_000;
    private static final double WIDE_TIME = 10_000;

    private final JdbcClient jdbc;
    private final Curves curves;

    CurveModels(JdbcClient jdbc, Curves curves) {
        this.jdbc = jdbc;
        this.curves = curves;
    }

    private record Kept(String id, int revision, String by, OffsetDateTime at) {}

    /** All models: what ships, and what people made. */
    List<CurveModelView> views() {
        Map<String, List<CurveModelView.CurveRevision>> revisions = new HashMap<>();
        jdbc.sql("SELECT id, revision, kept_by, kept_at FROM curve_revision ORDER BY id, revision DESC")
                .query((rs, i) ->
                        new Kept(rs.getString(1), rs.getInt(2), rs.getString(3), rs.getObject(4, OffsetDateTime.class)))
                .list()
                .forEach(k -> revisions
                        .computeIfAbsent(k.id, r -> new ArrayList<>())
                        .add(new CurveModelView.CurveRevision(k.revision, k.by, k.at.toInstant())));
        Map<String, List<String>> uses = uses();
        return curves.library().models().stream()
                .map(m -> view(m, revisions.getOrDefault(m.id(), List.of()), uses.getOrDefault(m.id(), List.of())))
                .toList();
    }

    /** Positions of devices by the model they go by: the one named in the register, else that of maker and model. */
    private Map<String, List<String>> uses() {
        Map<String, List<String>> uses = new HashMap<>();
        CurveLibrary library = curves.library();
        jdbc.sql(
                        """
        SELECT coalesce(i.position, a.id), a.maker, a.model, a.curve
        FROM asset a LEFT JOIN installation i ON i.asset = a.id AND upper_inf(i.during)
        WHERE a.retired_at IS NULL AND (a.curve IS NOT NULL OR jsonb_exists(a.nameplate->'ratings', 'ratedCurrent'))
        ORDER BY 1""")
                .query((rs, i) -> new String[] {rs.getString(1), rs.getString(2), rs.getString(3), rs.getString(4)})
                .list()
                .forEach(a -> Optional.ofNullable(a[3])
                        .or(() -> library.byNameplate(a[1], a[2]).map(CurveModel::id))
                        .ifPresent(id ->
                                uses.computeIfAbsent(id, k -> new ArrayList<>()).add(a[0])));
        return uses;
    }

    private static CurveModelView view(
            CurveModel m, List<CurveModelView.CurveRevision> revisions, List<String> usedBy) {
        return new CurveModelView(
                m.id(),
                m.maker(),
                m.model(),
                m.technology(),
                m.source(),
                m.condition(),
                m.ratings(),
                dials(m),
                m.elements().stream().map(CurveModel.Element::label).distinct().toList(),
                !revisions.isEmpty(),
                revisions.isEmpty() ? 0 : revisions.get(0).revision(),
                revisions,
                usedBy.size(),
                usedBy.stream().limit(MOST_TOLD).toList(),
                form(m, revisions.isEmpty() ? 0 : revisions.get(0).revision()));
    }

    private static List<CurveModelView.CurveDial> dials(CurveModel m) {
        Map<String, CurveModelView.CurveDial> dials = new LinkedHashMap<>();
        double rated = m.ratings().isEmpty() ? 100 : m.ratings().get(m.ratings().size() / 2);
        boolean any = m.ratings().isEmpty();
        dials.put(
                RATED,
                new CurveModelView.CurveDial(
                        RATED,
                        "In",
                        any ? 1 : m.ratings().get(0),
                        any ? 6300 : m.ratings().get(m.ratings().size() - 1),
                        "A",
                        rated));
        m.settings()
                .forEach(s -> dials.put(
                        s.key(),
                        new CurveModelView.CurveDial(
                                s.key(),
                                s.label(),
                                s.lowest(),
                                s.highest(),
                                s.unit(),
                                m.defaults()
                                        .getOrDefault(
                                                s.key(),
                                                Math.min(
                                                        s.highest(),
                                                        Math.max(
                                                                s.lowest(),
                                                                s.unit().equals("A")
                                                                        ? rated
                                                                        : Math.sqrt(s.lowest() * s.highest())))))));
        for (CurveModel.Element e : m.elements()) {
            dials.putIfAbsent(
                    e.settingKey(),
                    new CurveModelView.CurveDial(e.settingKey(), e.settingKey(), 1, 10 * rated, "A", rated));
            if (e.timeSettingKey() != null) {
                dials.putIfAbsent(
                        e.timeSettingKey(),
                        new CurveModelView.CurveDial(e.timeSettingKey(), e.timeSettingKey(), 0.05, 20, "1", 1));
            }
        }
        return List.copyOf(dials.values());
    }

    /**
     * The band at some settings.
     *
     * @throws FieldsException naming every field of a form at fault, or the setting that the model is not made for
     */
    CurveModelView.CurvePreview preview(CurveModelView.CurveTrial trial) {
        CurveModel model;
        if (trial.form() != null) {
            model = model("trial", trial.form());
        } else {
            String id = Objects.toString(trial.id(), "");
            model = curves.library().byId(id).orElseThrow(() -> new NotFoundException("curve", id));
        }
        TimeCurrentBand band;
        try {
            band = model.bandFor(trial.plate());
        } catch (IllegalArgumentException e) {
            throw new FieldsException(List.of(new FieldProblem("plate", String.valueOf(e.getMessage()))));
        }
        return new CurveModelView.CurvePreview(band.source(), band.condition(), band.marks(), band.outline());
    }

    /**
     * Keeps a model of one's own, or a new revision of it. Runs that are open keep the band they were opened with.
     *
     * @throws FieldsException naming every field at fault
     * @throws Refusal if it is one that ships, or somebody kept another revision meanwhile
     */
    @Transactional
    public CurveModelView keep(String id, CurveModelView.CurveForm form, String by) {
        if (!ID.matcher(id).matches()) {
            throw new FieldsException(List.of(new FieldProblem(
                    "id", "Give it a short name of 3 to 60 small letters, digits and dashes, such as orvex-m400.")));
        }
        CurveModel model = model(id, form);
        int now = jdbc.sql("SELECT coalesce(max(revision), 0) FROM curve_revision WHERE id = :id")
                .param("id", id)
                .query(Integer.class)
                .single();
        if (now == 0 && curves.library().byId(id).isPresent()) {
            throw new Refusal(
                    "ships-with-the-program",
                    "The curve " + id + " ships with the program and stays as it is. Keep yours under another name.",
                    "id");
        }
        int stored = form.seen() != now ? 0 : store(id, now + 1, model, by);
        if (stored == 0) {
            throw new Refusal(
                    "changed-meanwhile",
                    "Somebody kept this curve meanwhile. Look at it again; nothing of yours was stored.",
                    "seen");
        }
        curves.add(List.of(model));
        return views().stream().filter(v -> v.id().equals(id)).findFirst().orElseThrow();
    }

    /** Takes models that come as a document; each is a new revision of its own. */
    @Transactional
    public List<String> take(List<CurveModel> models, String by) {
        for (CurveModel model : models) {
            int now = jdbc.sql("SELECT coalesce(max(revision), 0) FROM curve_revision WHERE id = :id")
                    .param("id", model.id())
                    .query(Integer.class)
                    .single();
            store(model.id(), now + 1, model, by);
        }
        curves.add(models);
        return models.stream().map(CurveModel::id).toList();
    }

    private int store(String id, int revision, CurveModel model, String by) {
        return jdbc.sql("INSERT INTO curve_revision (id, revision, body, kept_by) VALUES (:id, :revision, "
                        + ":body::jsonb, :by) ON CONFLICT DO NOTHING")
                .param("id", id)
                .param("revision", revision)
                .param("body", CoreJson.mapper().writeValueAsString(model))
                .param("by", by)
                .update();
    }

    private static CurveModel model(String id, CurveModelView.CurveForm form) {
        List<FieldProblem> problems = new ArrayList<>();
        text(problems, "maker", form.maker(), 60);
        text(problems, "model", form.model(), 60);
        text(problems, "source", form.source(), 200);
        text(problems, "condition", form.condition(), 300);
        if (form.ratings().stream().anyMatch(r -> !(r > 0 && r <= WIDE_CURRENT))) {
            problems.add(new FieldProblem("ratings", "Rated currents are above 0 A, up to 100 kA."));
        }
        if (form.parts().isEmpty() || form.parts().size() > MOST_PARTS) {
            problems.add(new FieldProblem("parts", "A curve has one to " + MOST_PARTS + " parts."));
        }
        List<CurveModel.Element> elements = new ArrayList<>();
        Map<String, CurveModel.Setting> settings = new LinkedHashMap<>();
        for (int i = 0; i < form.parts().size(); i++) {
            CurveModelView.CurvePartForm p = form.parts().get(i);
            String at = "parts." + i + ".";
            text(problems, at + "label", p.label(), 40);
            if (!KEY.matcher(p.settingKey()).matches()) {
                problems.add(new FieldProblem(
                        at + "settingKey", "Name the value of the nameplate it counts from, such as ratedCurrent."));
            }
            if (!(p.pickUpLow() > 0 && p.pickUpLow() <= (p.pickUpHigh() == null ? 1e4 : p.pickUpHigh()))) {
                problems.add(new FieldProblem(
                        at + "pickUpLow", "It may operate from a multiple above 0, at most where it must."));
            }
            ElementShape shape = shape(problems, at, p);
            if (shape != null) {
                elements.add(new CurveModel.Element(
                        name(p.label(), i),
                        p.label().strip(),
                        p.settingKey(),
                        p.pickUpLow(),
                        p.pickUpHigh(),
                        p.formula() == null ? null : p.timeSettingKey(),
                        shape));
                if (!p.settingKey().equals(RATED)) {
                    settings.put(
                            p.settingKey(),
                            new CurveModel.Setting(p.settingKey(), p.settingKey(), 0.01, WIDE_CURRENT, "A"));
                }
                if (p.formula() != null && p.timeSettingKey() != null) {
                    settings.put(
                            p.timeSettingKey(),
                            new CurveModel.Setting(p.timeSettingKey(), p.timeSettingKey(), 0.001, WIDE_TIME, "1"));
                }
            }
        }
        FieldsException.throwIf(problems);
        return new CurveModel(
                id,
                form.maker().strip(),
                form.model().strip(),
                form.technology().strip(),
                form.source().strip(),
                form.condition().strip(),
                form.ratings().stream().sorted().toList(),
                List.copyOf(settings.values()),
                Map.of(),
                elements);
    }

    private static String name(String label, int index) {
        String id = label.strip().toLowerCase(Locale.ROOT).replaceAll("[^a-z0-9]+", "-");
        return id.isEmpty() || id.equals("-") ? "part-" + index : id;
    }

    private static @Nullable ElementShape shape(
            List<FieldProblem> problems, String at, CurveModelView.CurvePartForm p) {
        if (p.formula() == null) {
            try {
                return CurvePoints.read(Objects.toString(p.points(), ""));
            } catch (IllegalArgumentException e) {
                problems.add(new FieldProblem(at + "points", String.valueOf(e.getMessage())));
                return null;
            }
        }
        InverseTimeCurve curve = InverseTimeCurve.byId(p.formula()).orElse(null);
        double from = p.from() == null ? 1.1 : p.from();
        double upTo = p.upTo() == null ? 20 : p.upTo();
        double minus = p.minusPercent() == null ? 0 : p.minusPercent();
        double plus = p.plusPercent() == null ? 0 : p.plusPercent();
        if (curve == null) {
            problems.add(new FieldProblem(at + "formula", "There is no standard curve \"" + p.formula() + "\"."));
        }
        if (!(from > 1 && upTo > from && upTo <= 1000)) {
            problems.add(
                    new FieldProblem(at + "from", "It holds from above 1 x up to a larger multiple, at most 1000."));
        }
        if (!(minus >= 0 && minus < 100 && plus >= 0 && plus <= 300)) {
            problems.add(new FieldProblem(
                    at + "minusPercent", "Tolerances are per cent: less than 100 below, up to 300 above."));
        }
        if (p.timeSettingKey() == null || !KEY.matcher(p.timeSettingKey()).matches()) {
            problems.add(new FieldProblem(
                    at + "timeSettingKey", "Name the value of the nameplate that its times are multiplied by."));
        }
        return problems.isEmpty() && curve != null ? new ElementShape.Inverse(curve, minus, plus, from, upTo) : null;
    }

    private static void text(List<FieldProblem> problems, String field, String text, int longest) {
        if (text.isBlank() || text.strip().length() > longest) {
            problems.add(
                    new FieldProblem(field, text.isBlank() ? "This is needed." : "At most " + longest + " letters."));
        }
    }

    /** A model as a form; null where it has a part that the form cannot state. */
    private static CurveModelView.@Nullable CurveForm form(CurveModel m, int revision) {
        List<CurveModelView.CurvePartForm> parts = new ArrayList<>();
        for (CurveModel.Element e : m.elements()) {
            if (e.when() != null || e.apart() != null) {
                return null;
            }
            if (e.shape() instanceof ElementShape.Points points && e.timeSettingKey() == null) {
                parts.add(new CurveModelView.CurvePartForm(
                        e.label(),
                        e.settingKey(),
                        e.pickUpLow(),
                        e.pickUpHigh(),
                        lines(points),
                        null,
                        null,
                        null,
                        null,
                        null,
                        null));
            } else if (e.shape() instanceof ElementShape.Inverse inverse) {
                parts.add(new CurveModelView.CurvePartForm(
                        e.label(),
                        e.settingKey(),
                        e.pickUpLow(),
                        e.pickUpHigh(),
                        null,
                        inverse.curve().id(),
                        e.timeSettingKey(),
                        inverse.minusPercent(),
                        inverse.plusPercent(),
                        inverse.from(),
                        inverse.upTo()));
            } else {
                return null;
            }
        }
        return new CurveModelView.CurveForm(
                Objects.toString(m.maker(), ""),
                m.model(),
                m.technology(),
                m.source(),
                m.condition(),
                m.ratings(),
                parts,
                revision);
    }

    private static String lines(ElementShape.Points points) {
        java.util.TreeMap<Double, String[]> rows = new java.util.TreeMap<>();
        for (int i = 0; i < points.lowestMultiples().size(); i++) {
            rows.computeIfAbsent(points.lowestMultiples().get(i), k -> new String[] {"-", "-"})[0] =
                    String.valueOf(points.lowestTimes().get(i));
        }
        for (int i = 0; i < points.highestMultiples().size(); i++) {
            rows.computeIfAbsent(points.highestMultiples().get(i), k -> new String[] {"-", "-"})[1] =
                    String.valueOf(points.highestTimes().get(i));
        }
        StringBuilder text = new StringBuilder();
        rows.forEach((multiple, times) -> text.append(multiple)
                .append('\t')
                .append(times[0])
                .append('\t')
                .append(times[1])
                .append('\n'));
        return text.toString();
    }
}
