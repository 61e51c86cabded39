package org.juratest.server.record;

import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import java.util.Map;
import java.util.UUID;
import org.jspecify.annotations.Nullable;
import org.juratest.core.limit.Verdict;
import org.juratest.core.record.Chart;
import org.juratest.core.record.Headline;
import org.juratest.core.run.SignOff;
import org.juratest.server.register.Facts.Fact;
import org.juratest.server.run.PointViews;

/**
 * A record as it reads, on screen, on paper and in its file: made from the events of its run and the names of the
 * people in them, and of nothing else.
 *
 * @param number {@code position/year/n}
 * @param verdict not judged where incomplete and nothing worse
 * @param nameplate rated values in words
 * @param by name of who finished it
 * @param people names of all who acted in it
 * @param timeFactor how much faster than the clock the gear's time ran; above 1 only with simulated gear
 * @param identified serial number read off the device; absent if nobody compared it
 * @param notTested what the scope left out
 * @param more what only some records have
 */
public record RecordView(
        String number,
        UUID run,
        Headline headline,
        Verdict verdict,
        boolean complete,
        String reason,
        String job,
        RecordAsset asset,
        List<Fact> nameplate,
        RecordProcedure procedure,
        Instant openedAt,
        Instant finishedAt,
        double minutes,
        String zone,
        String by,
        List<String> people,
        List<Fact> conditions,
        List<RecordGear> gear,
        double timeFactor,
        @Nullable String identified,
        List<RecordStep> steps,
        List<Chart> charts,
        List<RecordTrace> traces,
        List<String> notTested,
        List<Remark> remarks,
        RecordSigning signing,
        RecordChain chain,
        RecordMore more) {

    /**
     * What only some records have.
     *
     * @param variant by which it was carried out, with its revision and hash; absent where by the procedure as it
     *     stands
     * @param provedOnce shared steps that one lane proves for the others
     * @param changed parameters that differ from the procedure's
     * @param settings of the device, before and after alignment
     * @param paths what leads took off
     * @param sounds what was heard
     * @param pictures that were captured
     * @param device what the device said of itself, in words; absent where nobody asked it
     * @param imported that readings were brought in by files, and when they were measured; absent where none were
     * @param files whether it captured what is handed out as files
     */
    public record RecordMore(
            @Nullable String variant,
            List<String> provedOnce,
            List<String> changed,
            List<SettingRow> settings,
            List<PathTable> paths,
            List<RecordSound> sounds,
            List<RecordPicture> pictures,
            @Nullable String device,
            @Nullable String imported,
            boolean files) {}

    /** A setting that was changed: the first value found, and the last it was left at. */
    public record SettingRow(String step, String setting, int before, int after) {}

    /**
     * A lead's path loss.
     *
     * @param greatest W
     * @param points frequency in MHz and loss in dB, in words
     */
    public record PathTable(String name, String greatest, List<PathRow> points) {}

    /** Figures of one place of a path loss. */
    public record PathRow(String megahertz, String decibels) {}

    /** Something heard, a WAVE file by its SHA-256. */
    public record RecordSound(String step, String title, String lane, String name, String blob, double seconds) {}

    /** A picture that gear took, by its SHA-256, with what belongs to it. */
    public record RecordPicture(
            String step,
            String title,
            String laneId,
            String lane,
            String name,
            String blob,
            String mediaType,
            Map<String, String> facts) {}

    /** The asset as it was then. */
    public record RecordAsset(
            String asset, String position, String site, String siteName, String maker, String model, String serial) {}

    /**
     * What was done, and by which rule it was judged.
     *
     * @param hash SHA-256 of the frozen version
     * @param rule decision rule in words
     */
    public record RecordProcedure(String code, int version, String title, String hash, String rule) {}

    /**
     * Gear of the run with its calibration then.
     *
     * @param usedFor titles of the steps it was used in
     * @param held whether its calibration held on the day
     */
    public record RecordGear(
            String id,
            String name,
            String maker,
            String model,
            String serial,
            @Nullable LocalDate calibratedOn,
            @Nullable LocalDate calibratedTo,
            @Nullable String certificate,
            List<String> usedFor,
            boolean held) {}

    /**
     * A step with what it came to.
     *
     * @param minutes spent on it
     * @param skipped why it was not done; absent if it was
     * @param gear name of the gear it used
     * @param unit symbol that all its points share; empty where they do not
     * @param criteria limit and its source, where all its points have the same; absent where each has its own
     * @param marks what is to be known of all its values
     * @param lanes labels of its lanes where they stand side by side; empty where they stand one under the other
     * @param done what was adjusted, voided or overruled in it, in order
     */
    public record RecordStep(
            String id,
            String kind,
            String title,
            double minutes,
            @Nullable String skipped,
            @Nullable String gear,
            String unit,
            @Nullable String criteria,
            List<String> marks,
            List<RecordPoint> points,
            List<RecordTick> ticks,
            List<String> done,
            List<RecordLane> lanes) {}

    /**
     * A point with its place in the table.
     *
     * @param name lane, or the point's label where the step has no lanes or several points
     * @param minutes spent on its lane; absent where the step has none
     * @param criteria limit and its source, or why there is none; absent where the step says it for all
     * @param uncertainty expanded (95 %) of what counts, as a figure; absent where unknown
     * @param marks what is to be known of this value: entered by hand, mean of 3, changed from default
     * @param answer of an inspection, with its words
     */
    public record RecordPoint(
            PointViews.PointView point,
            String name,
            @Nullable Double minutes,
            @Nullable String uncertainty,
            @Nullable String criteria,
            List<String> marks,
            @Nullable String answer) {}

    /** A confirmation, who gave it and when, and its counterpart. */
    public record RecordTick(
            String text, @Nullable Instant at, @Nullable String by, @Nullable String back, @Nullable Instant backAt) {}

    /** A lane that stands beside others. */
    public record RecordLane(String id, String label) {}

    /**
     * A captured trace that counts.
     *
     * @param lane in words; the step's title where it has no lanes
     * @param blob SHA-256 of its bytes
     * @param xUnit symbol
     * @param yUnit symbol
     * @param marks rows that were discovered along it, in their order
     */
    public record RecordTrace(
            String step,
            String title,
            String laneId,
            String lane,
            String name,
            String blob,
            String xUnit,
            String yUnit,
            int points,
            List<TraceMark> marks) {}

    /**
     * A row that was discovered along a trace.
     *
     * @param at place on the trace, in its unit
     * @param words what it is and where, with its figures
     */
    public record TraceMark(double at, String words, Verdict verdict) {}

    /**
     * A note, a photo, or something that happened.
     *
     * @param blob SHA-256 of a photo
     */
    public record Remark(Instant at, String by, String text, @Nullable String blob, boolean withdrawn) {}

    /**
     * Signatures, reviews and amendments.
     *
     * @param returned why it was sent back; absent unless it is
     */
    public record RecordSigning(SignOff.State state, @Nullable String returned, List<RecordEntry> entries) {}

    /**
     * One of them, in order.
     *
     * @param meaning performed, reviewed, reviewed as incomplete, returned, amended
     * @param concerns what an amendment concerns, in words
     * @param words of a review, or what an amendment says
     * @param reason of an amendment
     */
    public record RecordEntry(
            String meaning,
            String name,
            @Nullable String role,
            Instant at,
            @Nullable String concerns,
            @Nullable String words,
            @Nullable String reason) {}

    /**
     * Evidence.
     *
     * @param head SHA-256 of the last event
     * @param broken where the chain does not hold; absent where it does
     * @param software version that judged
     * @param origin installation the run was made at
     * @param unknown events of types this program does not know
     */
    public record RecordChain(
            String head, int events, @Nullable String broken, String software, String origin, int unknown) {}
}
