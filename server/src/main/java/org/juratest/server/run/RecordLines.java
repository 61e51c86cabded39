package org.juratest.server.run;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.apache.commons.csv.CSVFormat;
import org.jspecify.annotations.Nullable;
import org.juratest.core.limit.ResolvedLimit;
import org.juratest.core.procedure.PointKey;
import org.juratest.core.procedure.Step;
import org.juratest.core.run.AssetFacts;
import org.juratest.core.run.PointJudgement;
import org.juratest.core.run.RunEvents;
import org.juratest.core.run.RunState;
import org.juratest.core.run.StepEvents;
import org.juratest.formats.json.CoreJson;
import org.juratest.formats.table.CellText;

/**
 * What a table of records (RFC 4180) has of one: a row a test point; numbers with a point and in full, beside them the
 * figure as it is shown. It is a function of the run's events, and kept with the other fast tables ({@link RunRows}),
 * so that an export reads no events; where another way of showing would change it, {@link Projections} needs a new
 * version.
 *
 * @param about columns that every row begins with
 * @param rows columns that every row ends with, a line each, with their ends
 */
public record RecordLines(String about, String rows) {

    private static final List<String> ABOUT =
            List.of("record", "finished", "position", "site", "maker", "model", "serial", "procedure", "version");
    /** Between them stands what changes after a record is made. */
    private static final List<String> STANDING = List.of("by", "record_verdict", "signing");

    private static final List<String> POINT = List.of(
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

    private static final String END = "\r\n";

    /** The first line of a table, with its end. */
    public static String header() {
        return line(Stream.of(ABOUT, STANDING, POINT).flatMap(List::stream).toArray()) + END;
    }

    /** Lines of a finished run. */
    public static RecordLines of(RunState run) {
        RunEvents.Finished finished = Objects.requireNonNull(run.finished());
        AssetFacts asset = run.opened().asset();
        String about = line(
                finished.record(),
                Objects.requireNonNull(run.finishedAt()).toString(),
                asset.position(),
                asset.siteName(),
                asset.maker(),
                asset.model(),
                asset.serial(),
                run.procedure().title(),
                run.procedure().version());
        Map<PointKey, PointJudgement> judged = new HashMap<>();
        finished.judgement().points().forEach(p -> judged.put(p.key(), p));
        Map<String, List<PointViews.PointView>> points = PointViews.points(run, finished.judgement()).stream()
                .collect(Collectors.groupingBy(PointViews.PointView::step));
        List<String> rows = new ArrayList<>();
        for (Step step : run.stepsInScope()) {
            for (PointViews.PointView point : points.getOrDefault(step.id(), List.of())) {
                rows.add(row(run, step, point, Objects.requireNonNull(judged.get(point.key()))));
            }
        }
        return new RecordLines(about, rows.stream().map(r -> r + END).collect(Collectors.joining()));
    }

    private static String row(RunState run, Step step, PointViews.PointView point, PointJudgement judged) {
        PointJudgement.Value value = judged.counting();
        ResolvedLimit limit = judged.limit();
        PointViews.Figured shown = point.counting();
        return line(
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
                shown == null || shown.figure() == null ? answer(run, judged.key()) : shown.figure(),
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

    /** An inspection's answer in words, with what was said to it; absent where none was given. */
    public static @Nullable String answer(RunState run, PointKey key) {
        StepEvents.AnswerGiven given = run.answers().get(key);
        if (given == null) {
            return null;
        }
        String answer =
                switch (given.answer()) {
                    case IN_ORDER -> "in order";
                    case DEFECT -> "defect";
                    case NOT_IN_ORDER -> "not in order";
                };
        return given.words() == null ? answer : answer + ": " + given.words();
    }

    private static @Nullable Double number(PointJudgement.@Nullable Value value) {
        return value == null ? null : value.value();
    }

    private static @Nullable String verdict(PointJudgement.@Nullable Value value) {
        return value == null ? null : CoreJson.constantName(value.verdict());
    }

    /** Whole rows of a table, each with its end. */
    public void write(String by, String verdict, String signing, StringBuilder into) {
        String before = about + "," + line(by, verdict, signing) + ",";
        int from = 0;
        for (int end = ending(from); end >= 0; end = ending(from)) {
            into.append(before).append(rows, from, end + END.length());
            from = end + END.length();
        }
    }

    /** Where the row ends that begins there: a line's end in a quoted cell is none. */
    private int ending(int from) {
        boolean quoted = false;
        for (int i = from; i < rows.length(); i++) {
            char c = rows.charAt(i);
            if (c == '"') {
                quoted = !quoted;
            } else if (c == '\r' && !quoted) {
                return i;
            }
        }
        return -1;
    }

    private static String line(@Nullable Object... cells) {
        StringBuilder line = new StringBuilder();
        try {
            CSVFormat.RFC4180.printRecord(
                    line,
                    Arrays.stream(cells)
                            .map(c -> c instanceof String text ? CellText.guarded(text) : c)
                            .toArray());
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
        return line.substring(0, line.length() - END.length());
    }
}
