package org.juratest.server.record;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVPrinter;
import org.jspecify.annotations.Nullable;
import org.juratest.core.limit.ResolvedLimit;
import org.juratest.core.procedure.PointKey;
import org.juratest.core.run.PointJudgement;
import org.juratest.core.run.RunState;
import org.juratest.formats.json.CoreJson;
import org.juratest.formats.table.CellText;
import org.juratest.server.run.PointViews;

/**
 * Records as a table, RFC 4180: one row a test point; numbers with a point and in full, beside them the figure as it is
 * shown.
 */
final class RecordCsv {

    private static final List<String> HEADER = List.of(
            "record",
            "finished",
            "position",
            "site",
            "maker",
            "model",
            "serial",
            "procedure",
            "version",
            "by",
            "record_verdict",
            "signing",
            "step",
            "point",
            "lane",
            "label",
            "required",
            "as_found",
            "as_found_verdict",
            "as_left",
            "as_left_verdict",
            "value",
            "qualifier",
            "unit",
            "shown",
            "shown_unit",
            "uncertainty",
            "low",
            "high",
            "limit",
            "limit_source",
            "margin_used",
            "verdict",
            "why");

    private final CSVPrinter out;

    private RecordCsv(Appendable into) {
        try {
            this.out = new CSVPrinter(into, CSVFormat.RFC4180);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    /** The first line, with its end. */
    static String header() {
        return CSVFormat.RFC4180.format(HEADER.toArray()) + "\r\n";
    }

    /** Rows below a header. */
    static RecordCsv rows(Appendable into) {
        return new RecordCsv(into);
    }

    /** Adds a record's rows. */
    void add(RunState run, RecordView view) {
        Map<PointKey, PointJudgement> judged = new HashMap<>();
        Objects.requireNonNull(run.finished()).judgement().points().forEach(p -> judged.put(p.key(), p));
        for (RecordView.RecordStep step : view.steps()) {
            for (RecordView.RecordPoint point : step.points()) {
                row(
                        view,
                        step,
                        point,
                        Objects.requireNonNull(judged.get(point.point().key())));
            }
        }
    }

    private void row(RecordView view, RecordView.RecordStep step, RecordView.RecordPoint row, PointJudgement judged) {
        PointViews.PointView point = row.point();
        PointJudgement.Value value = judged.counting();
        ResolvedLimit limit = judged.limit();
        print(
                view.number(),
                view.finishedAt().toString(),
                view.asset().position(),
                view.asset().siteName(),
                view.asset().maker(),
                view.asset().model(),
                view.asset().serial(),
                view.procedure().title(),
                view.procedure().version(),
                view.by(),
                CoreJson.constantName(view.verdict()),
                CoreJson.constantName(view.signing().state()),
                step.title(),
                point.point(),
                point.lane(),
                point.label(),
                point.required(),
                number(judged.asFound()),
                verdict(judged.asFound()),
                number(judged.asLeft()),
                verdict(judged.asLeft()),
                number(value),
                value == null ? null : value.qualifier().sign(),
                judged.unit(),
                point.counting() == null
                        ? row.answer()
                        : point.counting().figure() == null
                                ? row.answer()
                                : point.counting().figure(),
                point.unit(),
                value == null ? null : value.uncertainty(),
                limit == null ? null : limit.low(),
                limit == null ? null : limit.high(),
                point.span(),
                point.source(),
                judged.marginUsed(),
                CoreJson.constantName(judged.verdict()),
                point.why());
    }

    private static @Nullable Double number(PointJudgement.@Nullable Value value) {
        return value == null ? null : value.value();
    }

    private static @Nullable String verdict(PointJudgement.@Nullable Value value) {
        return value == null ? null : CoreJson.constantName(value.verdict());
    }

    private void print(@Nullable Object... cells) {
        try {
            out.printRecord(Arrays.stream(cells)
                    .map(c -> c instanceof String text ? CellText.guarded(text) : c)
                    .toArray());
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }
}
