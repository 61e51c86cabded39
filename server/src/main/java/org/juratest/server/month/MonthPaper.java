package org.juratest.server.month;

import static org.juratest.server.paper.PaperPress.text;

import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.time.format.DateTimeFormatter;
import java.util.List;
import java.util.Locale;
import java.util.function.Function;

/** The month on one sheet of A4. */
final class MonthPaper {

    private static final DateTimeFormatter DAY = DateTimeFormatter.ofPattern("d MMM yyyy", Locale.UK);
    /** Lines of a list that one sheet has room for; what is left out is counted. */
    private static final int LINES = 7;

    private static final String CSS =
            """
      @page { size: A4; margin: 13mm 14mm 12mm 14mm; }
      body { font-family: Condensed; font-size: 8pt; line-height: 1.25; color: #1b2530; margin: 0; }
      h1 { font-family: Plex; font-size: 17pt; margin: 0; }
      h2 { font-family: Plex; font-size: 9.5pt; margin: 8pt 0 1pt 0; border-bottom: 0.8pt solid #1b2530; }
      .quiet { color: #5d6670; }
      .big { font-family: Mono; font-size: 15pt; }
      table { border-collapse: collapse; width: 100%; }
      th { font-weight: 400; color: #5d6670; font-size: 7.5pt; text-align: right; padding: 0 3pt 1pt 3pt; }
      td { border-bottom: 0.4pt solid #d8d1c2; padding: 1.2pt 3pt; vertical-align: top; }
      td.n { font-family: Mono; font-size: 7.5pt; text-align: right; }
      th.w { text-align: left; }
      .figures td { border: 0; width: 20%; padding: 4pt 3pt 2pt 0; }
      .now td { font-weight: 700; }
      """;

    private MonthPaper() {}

    static String html(MonthView month, ZoneId zone) {
        MonthView.MonthFigures own = month.own();
        int settled = own.due() - own.ahead();
        StringBuilder out = new StringBuilder(16_384)
                .append("<html xmlns=\"http://www.w3.org/1999/xhtml\" lang=\"en\"><head><title>")
                .append(text("The fleet in " + month.name()))
                .append("</title><style>")
                .append(CSS)
                .append("</style></head><body><h1>")
                .append(text("The fleet in " + month.name()))
                .append("</h1><p class=\"quiet\" style=\"margin:0\">")
                .append(text("As of " + DAY.format(month.today())))
                .append("</p><table class=\"figures\"><tr>");
        figure(out, own.inWindow() + " of " + settled, "done in their window");
        figure(out, share(own.first(), own.tested()), "passed at once");
        figure(out, String.valueOf(own.failed()), "failed at a test");
        figure(out, String.valueOf(own.inService()), "failed in service");
        figure(out, String.valueOf(month.coming().size()), "meet a limit within 12 months");
        out.append("</tr></table>");
        list(
                out,
                "Will meet a limit within 12 months",
                month.coming(),
                List.of("position", "device", "test point", "when"),
                c -> List.of(c.position(), c.model(), c.label(), c.meets()),
                "Nothing drifts that fast.");
        list(
                out,
                "Failed at a test",
                month.failed(),
                List.of("position", "day", "what", "since"),
                f -> List.of(f.position(), day(f.at(), zone), f.what(), f.since()),
                "Nothing failed.");
        list(
                out,
                "Found and put right",
                month.repaired(),
                List.of("position", "day", "what"),
                r -> List.of(r.position(), day(r.at(), zone), r.what()),
                "Nothing was repaired or adjusted.");
        list(
                out,
                "Failed in service",
                month.inService(),
                List.of("position", "day", "what"),
                f -> List.of(f.position(), day(f.at(), zone), f.what()),
                "None was entered.");
        list(
                out,
                "Moved",
                month.moved(),
                List.of("position", "test", "due", "to", "why"),
                m -> List.of(
                        m.position(),
                        m.title(),
                        DAY.format(m.due()),
                        m.until() == null ? "cannot be done" : DAY.format(m.until()),
                        m.why() + ", " + m.by()),
                "Nothing was deferred.");
        list(
                out,
                "Fails most often, twelve months",
                month.steps(),
                List.of("test", "point", "failed"),
                s -> List.of(s.title(), s.label(), s.failed() + " of " + s.of()),
                "Nothing failed.");
        year(out, month);
        return out.append("</body></html>").toString();
    }

    private static void figure(StringBuilder out, String figure, String words) {
        out.append("<td><span class=\"big\">")
                .append(text(figure))
                .append("</span><br/><span class=\"quiet\">")
                .append(text(words))
                .append("</span></td>");
    }

    private static String share(int part, int all) {
        return all == 0 ? "-" : Math.round(100.0 * part / all) + " %";
    }

    private static String day(Instant at, ZoneId zone) {
        return DAY.format(LocalDate.ofInstant(at, zone));
    }

    private static <T> void list(
            StringBuilder out,
            String title,
            List<T> lines,
            List<String> heads,
            Function<T, List<String>> cells,
            String none) {
        out.append("<h2>").append(text(title)).append("</h2>");
        if (lines.isEmpty()) {
            out.append("<p class=\"quiet\" style=\"margin:1pt 0\">")
                    .append(text(none))
                    .append("</p>");
            return;
        }
        out.append("<table><tr>");
        heads.forEach(h -> out.append("<th class=\"w\">").append(text(h)).append("</th>"));
        out.append("</tr>");
        lines.stream().limit(LINES).forEach(line -> {
            out.append("<tr>");
            cells.apply(line).forEach(c -> out.append("<td>").append(text(c)).append("</td>"));
            out.append("</tr>");
        });
        out.append("</table>");
        if (lines.size() > LINES) {
            out.append("<p class=\"quiet\" style=\"margin:0\">and ")
                    .append(lines.size() - LINES)
                    .append(" more</p>");
        }
    }

    private static void year(StringBuilder out, MonthView month) {
        out.append(
                "<h2>Twelve months</h2><table><tr><th class=\"w\">month</th><th>due</th><th>in window</th><th>late</th>"
                        + "<th>missed</th><th>over</th><th>records</th><th>passed at once</th><th>failed</th>"
                        + "<th>put right</th>"
                        + "<th>in service</th></tr>");
        for (MonthView.MonthFigures f : month.year()) {
            out.append(f.month().equals(month.month()) ? "<tr class=\"now\"><td>" : "<tr><td>")
                    .append(text(f.name()))
                    .append("</td>");
            for (String cell : List.of(
                    "" + f.due(),
                    "" + f.inWindow(),
                    "" + f.late(),
                    "" + f.missed(),
                    "" + f.over(),
                    "" + f.tested(),
                    share(f.first(), f.tested()),
                    "" + f.failed(),
                    "" + f.putRight(),
                    "" + f.inService())) {
                out.append("<td class=\"n\">").append(text(cell)).append("</td>");
            }
            out.append("</tr>");
        }
        out.append("</table>");
    }
}
