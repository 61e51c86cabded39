package org.juratest.server.record;

import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import org.juratest.core.limit.Verdict;
import org.juratest.core.record.Chart;
import org.juratest.core.trace.Trace;
import org.juratest.server.paper.PaperPress;
import org.juratest.server.record.RecordView.RecordPoint;
import org.juratest.server.record.RecordView.RecordStep;
import org.juratest.server.run.PointViews;

/** A record as the page that one would sign and file: XHTML with SVG drawings, from the view that the screen shows. */
final class RecordPaper {

    private static final double STRIP = 118;
    private static final double NARROW_STRIP = 104;
    /** Rows of a step that are kept on one page. */
    private static final int MOST_TOGETHER = 12;

    private static final DateTimeFormatter DAY = DateTimeFormatter.ofPattern("d MMM uuuu", Locale.UK);
    private static final DateTimeFormatter DAY_TIME = DateTimeFormatter.ofPattern("d MMM uuuu, HH:mm", Locale.UK);
    private static final DateTimeFormatter TIME = DateTimeFormatter.ofPattern("HH:mm", Locale.UK);

    private final RecordView record;
    private final String address;
    private final Function<String, Optional<String>> photos;
    private final Function<String, Optional<Trace>> traces;
    private final ZoneId zone;
    private final StringBuilder out = new StringBuilder(32_768);

    /**
     * @param address opens the record; shown as a QR code
     * @param photos address of a photo's bytes by its SHA-256
     * @param traces a trace by its SHA-256
     */
    RecordPaper(
            RecordView record,
            String address,
            Function<String, Optional<String>> photos,
            Function<String, Optional<Trace>> traces) {
        this.record = record;
        this.address = address;
        this.photos = photos;
        this.traces = traces;
        this.zone = ZoneId.of(record.zone());
    }

    static String text(@Nullable String text) {
        return PaperPress.text(text);
    }

    private RecordPaper add(String html) {
        out.append(html);
        return this;
    }

    private RecordPaper say(@Nullable String words) {
        out.append(text(words));
        return this;
    }

    String html() {
        add("<html xmlns=\"http://www.w3.org/1999/xhtml\" lang=\"en-GB\"><head><title>")
                .say("Record " + record.number())
                .add("</title>")
                .add("<meta name=\"author\" content=\"")
                .say(record.by())
                .add("\"/><meta name=\"subject\" content=\"")
                .say(record.procedure().title() + ", " + asset())
                .add("\"/><style>")
                .add(PaperStyle.CSS)
                .add("</style></head><body>");
        foot();
        head();
        facts();
        points();
        record.charts().forEach(this::chart);
        captured();
        seen();
        lists();
        signing();
        evidence();
        return add("</body></html>").out.toString();
    }

    private String asset() {
        return record.asset().maker() + " " + record.asset().model() + ", no. "
                + record.asset().serial();
    }

    private void foot() {
        add("<div class=\"foot\"><span>")
                .say("Record " + record.number() + ", chain head "
                        + record.chain().head().substring(0, 16))
                .add("</span></div>");
    }

    private void head() {
        Verdict shown = record.complete() || record.verdict() == Verdict.FAIL ? record.verdict() : Verdict.NOT_JUDGED;
        add("<table class=\"head\"><tr><td class=\"mark\">")
                .add(Drawing.mark(shown, 30))
                .add("</td><td><p class=\"number\">")
                .say("Record " + record.number())
                .add("</p><h1>")
                .say(record.headline().title())
                .add("</h1><p class=\"detail\">")
                .say(record.headline().detail())
                .add("</p></td></tr></table>");
    }

    private void facts() {
        add("<table class=\"facts\"><tr><td class=\"half\"><table>");
        fact("Asset", asset());
        fact("Position", record.asset().position() + ", " + record.asset().siteName());
        fact(
                "Nameplate",
                record.nameplate().stream()
                        .map(f -> f.label() + " " + joined(f.figure(), f.unit()))
                        .collect(Collectors.joining("; ")));
        fact(
                "Identified",
                record.more().device() != null
                        ? record.more().device()
                        : record.identified() == null
                                ? "not compared with the plate"
                                : "no. " + record.identified() + " read off the device");
        fact("Reason", record.reason() + ", job " + record.job());
        add("</table></td><td class=\"half\"><table>");
        fact(
                "Done",
                record.more().imported() != null
                        ? record.more().imported()
                        : DAY_TIME.format(at(record.openedAt())) + " to " + TIME.format(at(record.finishedAt())) + ", "
                                + figure(record.minutes()) + " min of work");
        fact("By", String.join(", ", record.people()));
        fact(
                "Procedure",
                record.procedure().title() + ", version " + record.procedure().version());
        if (record.more().variant() != null) {
            fact("Variant", record.more().variant());
        }
        if (!record.more().changed().isEmpty()) {
            fact("Parameters", String.join("; ", record.more().changed()));
        }
        fact("Rule", record.procedure().rule());
        fact(
                "Conditions",
                record.conditions().isEmpty()
                        ? "none entered"
                        : record.conditions().stream()
                                .map(f -> f.label() + " " + joined(f.figure(), f.unit()))
                                .collect(Collectors.joining(", ")));
        if (record.timeFactor() != 1) {
            fact("Simulated", "gear time ran " + figure(record.timeFactor()) + " times as fast as the clock");
        }
        add("</table></td></tr></table><h2>Gear</h2><table class=\"rows\">");
        record.gear().forEach(g -> add("<tr><td>")
                .say(g.name())
                .add("</td><td>")
                .say(g.maker() + " " + g.model() + ", no. " + g.serial())
                .add("</td><td class=\"")
                .add(g.held() ? "" : "expired")
                .add("\">")
                .say(calibration(g))
                .add("</td><td>")
                .say(String.join(", ", g.usedFor()))
                .add("</td></tr>"));
        add("</table>");
    }

    private static String calibration(RecordView.RecordGear gear) {
        LocalDate to = gear.calibratedTo();
        return to == null
                ? "not calibrated"
                : (gear.held() ? "calibrated to " : "calibration ended ")
                        + DAY.format(to)
                        + (gear.certificate() == null ? "" : ", certificate " + gear.certificate());
    }

    private void fact(String label, String words) {
        add("<tr><td class=\"label\">").say(label).add("</td><td>").say(words).add("</td></tr>");
    }

    private java.time.ZonedDateTime at(Instant instant) {
        return instant.atZone(zone);
    }

    /** The unit of what lies between two values: levels against a reference are apart by decibels alone. */
    private static String difference(String unit) {
        return unit.equals("dBm") ? "dB" : unit;
    }

    private static String joined(String figure, String unit) {
        return unit.isEmpty() ? figure : figure + "\u00a0" + unit;
    }

    private static String figure(double value) {
        return value == Math.rint(value) ? String.valueOf((long) value) : String.format(Locale.ROOT, "%.1f", value);
    }

    private static String minutes(double value) {
        return String.format(Locale.ROOT, "%.1f", value);
    }

    private void points() {
        add("<table class=\"points\"><thead><tr><th>Test point</th><th class=\"n\">As found</th><th></th><th "
                + "class=\"n\">As left</th><th></th>"
                + "<th>Against limit and past</th><th>Limit and where it comes from</th><th "
                + "class=\"n\">min</th></tr></thead>");
        record.steps().forEach(this::step);
        add("</table>");
    }

    private void step(RecordStep step) {
        if (step.points().isEmpty() && step.skipped() == null && step.done().isEmpty()) {
            return;
        }
        boolean each = step.points().stream().anyMatch(p -> p.minutes() != null);
        List<String> all = new ArrayList<>(step.criteria() == null ? List.of() : List.of(step.criteria()));
        all.addAll(step.marks());
        add(step.points().size() + step.done().size() > MOST_TOGETHER ? "<tbody>" : "<tbody class=\"together\">")
                .add("<tr class=\"step\"><td colspan=\"7\">")
                .say(step.title() + (step.unit().isEmpty() ? "" : ", " + step.unit()))
                .add(" <span class=\"all\">")
                .say(String.join("; ", all))
                .add("</span></td><td class=\"n\">")
                .say(each || step.minutes() < 0.05 ? "" : minutes(step.minutes()))
                .add("</td></tr>");
        if (step.skipped() != null) {
            add("<tr><td colspan=\"8\" class=\"quiet\">")
                    .say("Skipped: " + step.skipped())
                    .add("</td></tr>");
        } else if (step.lanes().size() > 1) {
            beside(step);
        } else {
            step.points().forEach(p -> point(step, p));
        }
        step.done()
                .forEach(d ->
                        add("<tr><td colspan=\"8\" class=\"quiet\">").say(d).add("</td></tr>"));
        add("</tbody>");
    }

    /** The points of a step, a row each, its lanes side by side. */
    private void beside(RecordStep step) {
        add("<tr><td colspan=\"8\"><table class=\"lanes\"><tr><th></th>");
        step.lanes().forEach(b -> add("<th>").say(b.label()).add("</th>"));
        add("<th>")
                .say(step.criteria() == null ? "Limit and where it comes from" : "")
                .add("</th></tr>");
        step.points().stream().map(p -> p.point().point()).distinct().forEach(id -> {
            List<RecordPoint> rows = step.points().stream()
                    .filter(p -> p.point().point().equals(id))
                    .toList();
            add("<tr><td>").say(rows.get(0).point().name()).add("</td>");
            step.lanes().forEach(b -> {
                add("<td>");
                rows.stream()
                        .filter(r -> r.point().lane().equals(b.id()))
                        .findFirst()
                        .ifPresent(r -> cell(step, r));
                add("</td>");
            });
            List<String> words = rows.stream()
                    .map(r -> String.join("; ", criteria(r)))
                    .distinct()
                    .toList();
            add("<td class=\"limit\">")
                    .say(
                            words.size() == 1
                                    ? words.get(0)
                                    : rows.stream()
                                            .map(r -> lane(step, r) + ": " + String.join("; ", criteria(r)))
                                            .collect(Collectors.joining(". ")))
                    .add("</td></tr>");
        });
        add("</table></td></tr>");
    }

    private static String lane(RecordStep step, RecordPoint row) {
        return step.lanes().stream()
                .filter(b -> b.id().equals(row.point().lane()))
                .map(RecordView.RecordLane::label)
                .findFirst()
                .orElse("");
    }

    /** What a point came to on one lane: as left where it was adjusted, with what was found beside it. */
    private void cell(RecordStep step, RecordPoint row) {
        PointViews.PointView p = row.point();
        PointViews.Figured value = p.counting();
        if (value == null) {
            add("<span class=\"quiet\">not measured</span>");
            return;
        }
        String unit = step.unit().isEmpty() ? p.unit() : "";
        add(Drawing.mark(value.verdict(), 8))
                .add(" <span class=\"reading\">")
                .say(joined(String.valueOf(value.figure()), unit))
                .add("</span>");
        if (p.asLeft() != null && p.asFound() != null) {
            add(" <span class=\"quiet\">found ")
                    .add(Drawing.mark(p.asFound().verdict(), 6))
                    .add(" ")
                    .say(p.asFound().figure())
                    .add("</span>");
        }
        if (p.strip() != null) {
            add("<br/>").add(Drawing.strip(p.strip(), p.verdict(), NARROW_STRIP));
        }
        List<String> own = ofValue(row);
        if (!own.isEmpty()) {
            add("<br/><span class=\"own\">").say(String.join("; ", own)).add("</span>");
        }
    }

    private void point(RecordStep step, RecordPoint row) {
        PointViews.PointView p = row.point();
        add("<tr class=\"point\"><td>").say(row.name()).add("</td>");
        value(step, p, p.asFound(), row.answer());
        value(step, p, p.asLeft(), null);
        PointViews.Strip strip = p.strip();
        add("<td>")
                .add(strip == null || p.counting() == null ? "" : Drawing.strip(strip, p.verdict(), STRIP))
                .add("</td><td class=\"limit\">")
                .say(Stream.concat(criteria(row).stream(), ofValue(row).stream())
                        .collect(Collectors.joining("; ")))
                .add("</td><td class=\"n mono\">")
                .say(row.minutes() == null ? "" : minutes(row.minutes()))
                .add("</td></tr>");
    }

    /** What a value is judged by; where that is the same for several lanes, it is said once. */
    private static List<String> criteria(RecordPoint row) {
        return Stream.concat(Stream.ofNullable(row.criteria()), row.marks().stream())
                .toList();
    }

    /** What goes with a value itself. */
    private static List<String> ofValue(RecordPoint row) {
        PointViews.PointView p = row.point();
        List<String> words = new ArrayList<>();
        if (p.counting() != null && p.counting().also() != null) {
            words.add(p.counting().also());
        }
        if (row.uncertainty() != null) {
            words.add("U " + joined(row.uncertainty(), difference(p.unit())));
        }
        if (p.change() != null) {
            words.add("since last " + joined(p.change(), difference(p.unit())));
        }
        return words;
    }

    /** Figure and mark of a value, two cells. */
    private void value(
            RecordStep step, PointViews.PointView p, PointViews.@Nullable Figured value, @Nullable String answer) {
        if (value == null) {
            add("<td></td><td></td>");
            return;
        }
        String unit = step.unit().isEmpty() ? p.unit() : "";
        add(value.figure() == null ? "<td class=\"n\">" : "<td class=\"n reading\">")
                .say(value.figure() == null ? answer : joined(value.figure(), unit))
                .add("</td><td class=\"v\">")
                .add(Drawing.mark(value.verdict(), 8))
                .add("</td>");
    }

    private void chart(Chart chart) {
        add("<div class=\"together\"><h2>")
                .say(chart.title())
                .add("</h2><p class=\"quiet\">")
                .say(chart.source())
                .add("</p>")
                .add(new ChartDrawing(chart).html())
                .add("</div>");
    }

    /** Traces as they were captured, those of one step over each other; along which rows were found, one by one. */
    private void captured() {
        record.traces().stream()
                .collect(Collectors.groupingBy(
                        t -> t.title() + (t.marks().isEmpty() ? "" : ", " + t.lane()) + ": "
                                + t.name().toLowerCase(Locale.UK),
                        LinkedHashMap::new,
                        Collectors.toList()))
                .forEach((title, of) -> {
                    Map<String, Trace> lanes = new LinkedHashMap<>();
                    of.forEach(t -> traces.apply(t.blob()).ifPresent(trace -> lanes.put(t.lane(), trace)));
                    if (!lanes.isEmpty()) {
                        add("<div class=\"together\"><h2>")
                                .say(title)
                                .add("</h2>")
                                .add(new TraceDrawing(lanes, of.get(0).marks()).html())
                                .add("</div>");
                    }
                });
    }

    /** Pictures that gear took, two in a row, with what belongs to them. */
    private void seen() {
        List<RecordView.RecordPicture> pictures = record.more().pictures();
        if (pictures.isEmpty()) {
            return;
        }
        add("<h2>What was seen</h2>");
        for (int n = 0; n < pictures.size(); n += 2) {
            add("<div class=\"together\"><table class=\"seen\"><tr>");
            for (RecordView.RecordPicture picture : pictures.subList(n, Math.min(n + 2, pictures.size()))) {
                String name = picture.lane().isEmpty() ? picture.title() : picture.title() + ", " + picture.lane();
                add("<td><b>").say(name).add("</b><br/>");
                photos.apply(picture.blob())
                        .ifPresentOrElse(
                                src -> add("<div class=\"over\"><img class=\"seen\" alt=\"")
                                        .say(name)
                                        .add("\" src=\"")
                                        .add(src)
                                        .add("\"/>")
                                        .add(PictureDrawing.over(picture.facts()))
                                        .add("</div>"),
                                () -> say("(the picture " + picture.blob().substring(0, 12)
                                        + " is not stored any more, or cannot be printed) "));
                say(Stream.concat(
                                Stream.of(picture.name()),
                                picture.facts().entrySet().stream()
                                        .filter(f -> !f.getKey().matches("#.*|width|height"))
                                        .map(f -> f.getKey() + " " + f.getValue()))
                        .collect(Collectors.joining(", ")));
                add("</td>");
            }
            add("</tr></table></div>");
        }
    }

    private void lists() {
        RecordView.RecordMore more = record.more();
        if (!more.settings().isEmpty()) {
            add("<div class=\"together\"><h2>Settings, before and after</h2><table class=\"rows\">");
            more.settings().forEach(s -> add("<tr><td>")
                    .say(s.step())
                    .add("</td><td>")
                    .say(s.setting())
                    .add("</td><td class=\"n mono\">")
                    .say(String.valueOf(s.before()))
                    .add("</td><td class=\"n mono\">")
                    .say(String.valueOf(s.after()))
                    .add("</td></tr>"));
            add("</table></div>");
        }
        more.paths().forEach(p -> {
            add("<div class=\"together\"><h2>")
                    .say("Path loss: " + p.name() + ", bears " + p.greatest() + " W")
                    .add("</h2><table class=\"rows\"><tr><td>MHz</td>");
            p.points()
                    .forEach(row ->
                            add("<td class=\"n mono\">").say(row.megahertz()).add("</td>"));
            add("</tr><tr><td>dB</td>");
            p.points()
                    .forEach(row ->
                            add("<td class=\"n mono\">").say(row.decibels()).add("</td>"));
            add("</tr></table></div>");
        });
        if (!more.provedOnce().isEmpty()) {
            add("<h2>Proved once for all</h2><p>")
                    .say(String.join("; ", more.provedOnce()))
                    .add("</p>");
        }
        add("<h2>Not tested</h2><p>")
                .say(record.notTested().isEmpty() ? "Nothing was left out." : String.join("; ", record.notTested()))
                .add("</p>");
        List<RecordView.RecordTick> ticks =
                record.steps().stream().flatMap(s -> s.ticks().stream()).toList();
        if (!ticks.isEmpty()) {
            add("<h2>Confirmed, and put back</h2><table class=\"rows\">");
            ticks.forEach(t -> add("<tr><td>")
                    .say(t.text())
                    .add("</td><td class=\"w\">")
                    .say(t.at() == null ? "not confirmed" : TIME.format(at(t.at())) + ", " + t.by())
                    .add("</td><td>")
                    .say(t.back())
                    .add("</td><td class=\"w\">")
                    .say(t.back() == null ? "" : t.backAt() == null ? "not put back" : TIME.format(at(t.backAt())))
                    .add("</td></tr>"));
            add("</table>");
        }
        if (!record.remarks().isEmpty()) {
            add("<h2>Notes and photos</h2>");
            record.remarks().forEach(this::remark);
        }
    }

    private void remark(RecordView.Remark remark) {
        add("<p class=\"together")
                .add(remark.withdrawn() ? " gone" : "")
                .add("\"><span class=\"quiet\">")
                .say(TIME.format(at(remark.at())) + ", " + remark.by() + ": ")
                .add("</span>")
                .say(remark.text());
        if (remark.blob() != null && !remark.withdrawn()) {
            photos.apply(remark.blob())
                    .ifPresentOrElse(
                            src -> add("<br/><img class=\"photo\" alt=\"")
                                    .say(remark.text())
                                    .add("\" src=\"")
                                    .add(src)
                                    .add("\"/>"),
                            () -> say(" (the photo " + remark.blob().substring(0, 12)
                                    + " is not stored any more, or is no picture that can be printed)"));
        }
        add("</p>");
    }

    private void signing() {
        add("<div class=\"together\"><h2>Signed</h2>");
        record.signing().entries().stream()
                .filter(e -> !e.meaning().equals("amended"))
                .forEach(e -> add("<p>")
                        .add("<b>")
                        .say(e.name())
                        .add("</b>")
                        .say((e.role() == null ? "" : ", " + e.role()) + ": " + e.meaning() + ", "
                                + DAY_TIME.format(at(e.at())) + (e.words() == null ? "" : ". " + e.words()))
                        .add("</p>"));
        String open =
                switch (record.signing().state()) {
                    case UNSIGNED -> "Not signed yet.";
                    case SIGNED -> "Waits for review.";
                    case RETURNED -> "Returned, to be signed again.";
                    case REVIEWED -> "";
                };
        add("<p class=\"quiet\">")
                .say(open)
                .add("</p><table class=\"lines\"><tr><td>Performed, name and date</td><td>Reviewed, name and "
                        + "date</td></tr></table></div>");
        List<RecordView.RecordEntry> amendments = record.signing().entries().stream()
                .filter(e -> e.meaning().equals("amended"))
                .toList();
        if (!amendments.isEmpty()) {
            add("<h2>Amended after signing</h2><p class=\"quiet\">What was recorded stands above as it was; "
                    + "no verdict was changed.</p>");
            amendments.forEach(a -> add("<p class=\"together\"><b>")
                    .say(a.concerns())
                    .add("</b>")
                    .say(": " + a.words() + " (why: " + a.reason() + "). " + a.name() + ", "
                            + DAY_TIME.format(at(a.at())))
                    .add("</p>"));
        }
    }

    private void evidence() {
        RecordView.RecordChain chain = record.chain();
        add("<div class=\"together evidence\"><table><tr><td>")
                .add(Drawing.qr(address, 84))
                .add("</td><td><h2>Evidence</h2><p>")
                .say(chain.events() + " events, "
                        + (chain.broken() == null ? "chain unbroken" : "CHAIN BROKEN: " + chain.broken())
                        + (chain.unknown() == 0 ? "" : ", " + chain.unknown() + " of kinds this program does not know"))
                .add("</p><p>Head <span class=\"mono\">")
                .say(chain.head())
                .add("</span></p><p>")
                .say("Procedure version ")
                .add("<span class=\"mono\">")
                .say(record.procedure().hash())
                .add("</span></p><p>")
                .say("Judged by Juratest " + chain.software() + ". The record with all its events is attached as "
                        + RecordPdf.ATTACHED + ".")
                .add("</p><p>")
                .say(address)
                .add("</p></td></tr></table></div>");
    }
}
