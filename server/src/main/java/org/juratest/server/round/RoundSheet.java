package org.juratest.server.round;

import static org.juratest.server.paper.PaperPress.text;

import java.time.format.DateTimeFormatter;
import java.util.Locale;
import org.juratest.server.round.Rounds.Round;
import org.juratest.server.round.Rounds.Stop;
import org.juratest.server.round.Rounds.StopJob;

/** A day on paper, for whoever has no screen on the way: stops with times, boxes to tick, room for a word. */
final class RoundSheet {

    private static final DateTimeFormatter LONG = DateTimeFormatter.ofPattern("EEEE d MMMM yyyy", Locale.UK);
    private static final DateTimeFormatter DAY = DateTimeFormatter.ofPattern("d MMM", Locale.UK);

    private static final String CSS =
            """
      @page { size: A4; margin: 15mm 14mm 17mm 14mm;
        @bottom-right { content: "page " counter(page) " of " counter(pages); font-family: Plex; font-size: 7.5pt;
          color: #5d6670; } }
      body { font-family: Plex; font-size: 9pt; line-height: 1.3; color: #1b2530; margin: 0; }
      h1 { font-size: 18pt; margin: 0 0 2pt 0; }
      h2 { font-size: 9pt; margin: 12pt 0 2pt 0; color: #5d6670; page-break-after: avoid; }
      .quiet { color: #5d6670; }
      table { border-collapse: collapse; width: 100%; }
      td { border-bottom: 0.5pt solid #d8d1c2; padding: 4pt 5pt 3pt 0; vertical-align: top; }
      tr { page-break-inside: avoid; }
      .stop td { font-weight: 700; font-size: 10pt; padding-top: 10pt; border-bottom: 0.8pt solid #1b2530;
        page-break-after: avoid; }
      .time { font-family: Mono; width: 88pt; white-space: nowrap; }
      .box { width: 15pt; }
      .box div { width: 8pt; height: 8pt; border: 0.8pt solid #1b2530; margin-top: 1.5pt; }
      .min { width: 42pt; text-align: right; font-family: Condensed; }
      .word { width: 130pt; border-bottom: 0.8pt dotted #5d6670; }
      .small { font-family: Condensed; color: #5d6670; }
      """;

    private RoundSheet() {}

    private static String clock(int minute) {
        return String.format(Locale.ROOT, "%02d:%02d", minute / 60 % 24, minute % 60);
    }

    static String html(Round round) {
        StringBuilder out = new StringBuilder(8192)
                .append("<html xmlns=\"http://www.w3.org/1999/xhtml\" lang=\"en\"><head><title>Round</title><style>")
                .append(CSS)
                .append("</style></head><body><h1>")
                .append(text(LONG.format(round.day())))
                .append("</h1><p>")
                .append(text(round.name() + ": leaves " + round.base() + " at " + clock(round.leaves()) + ", back at "
                        + clock(round.back()) + "; " + Rounds.hours(round.work()) + " of work, "
                        + Rounds.hours(round.travel()) + " of travel."))
                .append("</p>");
        round.conflicts()
                .forEach(c -> out.append("<p>").append(text("\u2022 " + c)).append("</p>"));
        out.append("<table>");
        for (Stop stop : round.stops()) {
            out.append("<tr class=\"stop\"><td class=\"time\">")
                    .append(clock(stop.arrives()))
                    .append(" to ")
                    .append(clock(stop.goesOn()))
                    .append("</td><td colspan=\"4\">")
                    .append(text(
                            String.format(Locale.ROOT, "%s, %.1f km, %d m", stop.name(), stop.km(), stop.altitude())))
                    .append("</td></tr>");
            for (StopJob job : stop.jobs()) {
                out.append("<tr><td class=\"time\"></td><td class=\"box\"><div></div></td><td><b>")
                        .append(text(job.position()))
                        .append("</b> ")
                        .append(text(job.maker() + " " + job.model() + ", no. " + job.serial()))
                        .append("<br/><span class=\"small\">")
                        .append(text(job.title() + ", " + job.reason() + ", due " + DAY.format(job.due())
                                + (job.status().equals("done") ? ", done" : "")))
                        .append(job.lacks().isEmpty() ? "" : "<br/>" + text(String.join("; ", job.lacks())))
                        .append("</span></td><td class=\"min\">")
                        .append(job.minutes())
                        .append(" min</td><td class=\"word\"></td></tr>");
            }
        }
        out.append("</table><h2>To take along</h2><table>");
        round.loadout().forEach(i -> out.append("<tr><td class=\"box\">")
                .append(i.holds() ? "<div></div>" : "")
                .append("</td><td><b>")
                .append(text(i.name()))
                .append("</b> <span class=\"small\">")
                .append(text(i.detail()))
                .append("</span></td><td>")
                .append(i.holds() ? text(i.state()) : "<b>" + text(i.state()) + "</b>")
                .append("</td></tr>"));
        return out.append("</table></body></html>").toString();
    }
}
