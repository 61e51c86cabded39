package org.juratest.server.compliance;

import static org.juratest.server.paper.PaperPress.text;

import java.time.LocalDate;
import java.time.format.DateTimeFormatter;
import java.util.List;
import java.util.Locale;
import java.util.stream.Collectors;
import org.juratest.server.compliance.Compliance.ComplianceCell;
import org.juratest.server.compliance.Compliance.ComplianceReport;

/** The report on paper: one line a procedure and period, and below it why what was late or missed was. */
final class CompliancePaper {

    private static final DateTimeFormatter DAY = DateTimeFormatter.ofPattern("d MMM yyyy", Locale.UK);

    private static final String CSS =
            """
      @page { size: A4; margin: 15mm 14mm 17mm 14mm;
        @bottom-right { content: "page " counter(page) " of " counter(pages); font-family: Plex; font-size: 7.5pt;
          color: #5d6670; } }
      body { font-family: Plex; font-size: 8.5pt; line-height: 1.3; color: #1b2530; margin: 0; }
      h1 { font-size: 18pt; margin: 0 0 2pt 0; }
      .quiet { color: #5d6670; }
      table { border-collapse: collapse; width: 100%; margin-top: 10pt; -fs-table-paginate: paginate; }
      th { font-family: Condensed; font-weight: 400; color: #5d6670; font-size: 8pt; text-align: right;
        border-bottom: 0.8pt solid #1b2530; padding: 0 4pt 2pt 4pt; }
      td { font-family: Mono; text-align: right; border-bottom: 0.5pt solid #d8d1c2; padding: 2.5pt 4pt 2pt 4pt;
        vertical-align: top; }
      th.w, td.w { text-align: left; font-family: Condensed; }
      tr { page-break-inside: avoid; }
      .step td { font-weight: 700; padding-top: 7pt; }
      .why { font-size: 7.5pt; color: #5d6670; }
      """;

    private CompliancePaper() {}

    static String html(ComplianceReport report, String where) {
        StringBuilder out = new StringBuilder(16_384)
                .append("<html xmlns=\"http://www.w3.org/1999/xhtml\" lang=\"en\"><head><title>Tests due and "
                        + "done</title><style>")
                .append(CSS)
                .append("</style></head><body><h1>Tests due and done</h1><p>")
                .append(text("Due from " + day(report.from()) + " to " + day(report.to()) + ", " + where))
                .append("</p><p class=\"quiet\">")
                .append(text("As of " + day(report.today())
                        + ". Late: done after its window closed. Missed: the next one came "
                        + "before it was done. Over: still open after its window closed."))
                .append("</p>");
        out.append("<table><thead><tr><th class=\"w\">procedure, period</th><th>due</th><th>in "
                + "window</th><th>late</th><th>missed</th><th>over</th><th>ahead</th><th>in window, "
                + "%</th></tr></thead><tbody>");
        report.rows().forEach(row -> {
            line(out, row.title(), row.total(), true);
            row.periods().stream().filter(c -> c.due() > 0).forEach(c -> line(out, c.period(), c, false));
        });
        return out.append("</tbody></table></body></html>").toString();
    }

    private static String day(LocalDate day) {
        return DAY.format(day);
    }

    private static void line(StringBuilder out, String name, ComplianceCell c, boolean total) {
        out.append(total ? "<tr class=\"step\"><td class=\"w\">" : "<tr><td class=\"w\">")
                .append(text(name));
        if (!total && !c.whys().isEmpty()) {
            out.append("<br/><span class=\"why\">")
                    .append(text(c.whys().stream()
                            .map(w -> w.count() == 1 ? w.why() : w.why() + " (" + w.count() + ")")
                            .collect(Collectors.joining("; "))))
                    .append("</span>");
        }
        out.append("</td>");
        List.of(c.due(), c.inWindow(), c.late(), c.missed(), c.over(), c.ahead())
                .forEach(n -> out.append("<td>").append(n).append("</td>"));
        int settled = c.due() - c.ahead();
        out.append("<td>")
                .append(settled == 0 ? "" : String.format(Locale.ROOT, "%.0f", 100.0 * c.inWindow() / settled))
                .append("</td></tr>");
    }
}
