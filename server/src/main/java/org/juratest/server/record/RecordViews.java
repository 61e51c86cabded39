package org.juratest.server.record;

import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.time.format.DateTimeFormatter;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import java.util.function.Function;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import org.juratest.core.limit.DecisionRule;
import org.juratest.core.limit.Figures;
import org.juratest.core.limit.ResolvedLimit;
import org.juratest.core.method.Methods;
import org.juratest.core.procedure.Step;
import org.juratest.core.record.Headline;
import org.juratest.core.record.StepTimes;
import org.juratest.core.run.AssetFacts;
import org.juratest.core.run.Attempt;
import org.juratest.core.run.Event;
import org.juratest.core.run.GearFacts;
import org.juratest.core.run.Reading;
import org.juratest.core.run.RunEvents;
import org.juratest.core.run.RunJudgement;
import org.juratest.core.run.RunState;
import org.juratest.formats.run.EventCodec;
import org.juratest.server.record.RecordView.RecordGear;
import org.juratest.server.register.Facts;
import org.juratest.server.register.Facts.Fact;

/** Makes the view of a finished run. */
final class RecordViews {

    private static final DateTimeFormatter BROUGHT = DateTimeFormatter.ofPattern("d MMM yyyy, HH:mm", Locale.ENGLISH);

    private static final Map<String, String> CONDITIONS =
            Map.of("equipmentTemperature", "Equipment", "ambientTemperature", "Ambient", "humidity", "Humidity");

    private final RunState run;
    private final RunEvents.Finished finished;
    private final Function<String, String> names;
    private final StepTimes times;

    private RecordViews(RunState run, RunEvents.Finished finished, Function<String, String> names) {
        this.run = run;
        this.finished = finished;
        this.names = names;
        this.times = StepTimes.of(run);
    }

    /**
     * The record of a finished run.
     *
     * @param names name of a person by sign-in name
     * @param labels titles of nameplate values by key, in order
     * @param broken where the chain does not hold; absent where it does
     */
    static RecordView of(
            RunState run, Function<String, String> names, Map<String, String> labels, @Nullable String broken) {
        return new RecordViews(run, Objects.requireNonNull(run.finished()), names).view(labels, broken);
    }

    private RecordView view(Map<String, String> labels, @Nullable String broken) {
        RunEvents.Opened opened = run.opened();
        RunJudgement judgement = finished.judgement();
        AssetFacts asset = opened.asset();
        RecordSheet sheet = new RecordSheet(run, judgement, times, this::name);
        return new RecordView(
                finished.record(),
                run.events().get(0).run(),
                Headline.of(run, judgement),
                judgement.verdict(),
                judgement.complete(),
                opened.reason(),
                opened.job(),
                new RecordView.RecordAsset(
                        asset.asset(),
                        asset.position(),
                        asset.site(),
                        asset.siteName(),
                        asset.maker(),
                        asset.model(),
                        asset.serial()),
                Facts.of(asset.nameplate(), labels),
                procedure(),
                run.events().get(0).at(),
                Objects.requireNonNull(run.finishedAt()),
                minutes(all()),
                opened.zone(),
                finisher(),
                people(),
                conditions(),
                gear(),
                timeFactor(),
                run.identified(),
                sheet.steps(),
                Methods.charts(run, judgement),
                RecordTraces.of(run, judgement),
                judgement.notTested(),
                sheet.remarks(),
                RecordSigningView.of(run),
                chain(broken),
                new RecordView.RecordMore(
                        variant(),
                        judgement.provedOnce() == null ? List.of() : judgement.provedOnce(),
                        sheet.changed(),
                        sheet.settings(),
                        paths(),
                        sheet.sounds(),
                        sheet.pictures(),
                        device(),
                        imported(),
                        CaptureFiles.any(run)));
    }

    private @Nullable String variant() {
        RunEvents.VariantApplied variant = run.variant();
        return variant == null
                ? null
                : variant.name() + ", revision " + variant.revision() + " (" + variant.variant() + ", "
                        + String.valueOf(variant.hash()).substring(0, 12) + ")";
    }

    private List<RecordView.PathTable> paths() {
        return run.gear().stream()
                .filter(g -> g.path() != null && used(g))
                .map(g -> new RecordView.PathTable(
                        g.name(),
                        Figures.of(Objects.requireNonNull(g.path()).greatest()),
                        g.path().loss().points().stream()
                                .map(p -> new RecordView.PathRow(
                                        Figures.of(p.megahertz()),
                                        String.format(java.util.Locale.ROOT, "%.2f", p.decibels())))
                                .toList()))
                .toList();
    }

    /** A lead is used with whatever is measured on the same run. */
    private boolean used(GearFacts gear) {
        return gear.path() != null && run.attempts().stream().anyMatch(Attempt::counts);
    }

    /** Files that brought readings in: how many, when they were measured and brought in. */
    private @Nullable String imported() {
        RunEvents.Imported last = run.imported();
        if (last == null) {
            return null;
        }
        ZoneId zone = ZoneId.of(run.opened().zone());
        int files = run.events().stream()
                .map(Event::data)
                .filter(RunEvents.Imported.class::isInstance)
                .mapToInt(d -> ((RunEvents.Imported) d).files())
                .sum();
        return (files == 1 ? "1 file" : files + " files") + " imported "
                + BROUGHT.format(run.events().get(0).at().atZone(zone))
                + (last.taken() == null
                        ? ", which do not say when they were measured"
                        : ", measured to " + BROUGHT.format(last.taken().atZone(zone)));
    }

    private @Nullable String device() {
        RunEvents.DeviceIdentity device = run.device();
        return device == null
                ? null
                : device.maker() + " " + device.model() + ", no. " + device.serial() + ", firmware " + device.firmware()
                        + (device.configuration() == null ? "" : ", configuration " + device.configuration())
                        + ", over the data port";
    }

    private Duration all() {
        return times.steps().values().stream().reduce(Duration.ZERO, Duration::plus);
    }

    static double minutes(Duration duration) {
        return Math.round(duration.toMillis() / 6000.0) / 10.0;
    }

    private String name(String person) {
        return names.apply(person);
    }

    private String finisher() {
        return run.events().stream()
                .filter(e -> e.data() instanceof RunEvents.Finished)
                .map(e -> name(e.by().id()))
                .findFirst()
                .orElse("");
    }

    private List<String> people() {
        long end = run.events().stream()
                .filter(e -> e.data() instanceof RunEvents.Finished)
                .mapToLong(Event::n)
                .findFirst()
                .orElse(run.n());
        return run.events().stream()
                .filter(e -> e.by().isPerson() && e.n() <= end)
                .map(e -> name(e.by().id()))
                .distinct()
                .toList();
    }

    private RecordView.RecordProcedure procedure() {
        String rule = run.procedure().rule() == DecisionRule.SIMPLE
                ? "simple: inside is pass, marginal from " + Math.round(ResolvedLimit.MARGINAL_FROM * 100)
                        + " % of the margin"
                : "guarded (ILAC-G8:09/2019): pass and fail only beyond the uncertainty";
        return new RecordView.RecordProcedure(
                run.procedure().code(),
                run.procedure().version(),
                run.procedure().title(),
                run.opened().procedureHash(),
                rule);
    }

    private List<Fact> conditions() {
        return run.conditions().entrySet().stream()
                .map(c -> Facts.fact(CONDITIONS.getOrDefault(c.getKey(), c.getKey()), c.getValue()))
                .toList();
    }

    private List<RecordGear> gear() {
        LocalDate day = LocalDate.ofInstant(
                run.events().get(0).at(), ZoneId.of(run.opened().zone()));
        // What was exchanged on the way was used too.
        return Stream.concat(run.opened().gear().stream(), run.gear().stream())
                .map(g -> new RecordGear(
                        g.id(),
                        g.name(),
                        g.maker(),
                        g.model(),
                        g.serial(),
                        g.calibratedOn(),
                        g.calibratedTo(),
                        g.certificate(),
                        usedFor(g),
                        g.holdsOn(day)))
                .filter(g -> !g.usedFor().isEmpty())
                .distinct()
                .toList();
    }

    private List<String> usedFor(GearFacts gear) {
        List<String> steps = run.procedure().steps().stream()
                .filter(s -> run.attempts().stream()
                        .anyMatch(a -> a.step().equals(s.id()) && (gear.id().equals(gearOf(a)) || beside(s, a, gear))))
                .map(Step::title)
                .toList();
        return steps.isEmpty() && used(gear) ? List.of("everything between device and gear") : steps;
    }

    /** A step's further gear stands behind its readings as well; what measures nothing itself does not. */
    private boolean beside(Step step, Attempt attempt, GearFacts gear) {
        return step.furtherNeeds().contains(gear.need())
                && !attempt.readings().isEmpty()
                && run.procedure().gear().stream().anyMatch(n -> n.id().equals(gear.need()) && n.calibrated());
    }

    /** Id of the gear an attempt was made with, or its value read off. */
    static @Nullable String gearOf(Attempt attempt) {
        return attempt.gear() != null
                ? attempt.gear()
                : attempt.readings().stream()
                        .map(Reading::gear)
                        .filter(Objects::nonNull)
                        .findFirst()
                        .orElse(null);
    }

    private double timeFactor() {
        return run.attempts().stream().mapToDouble(Attempt::timeFactor).max().orElse(1);
    }

    private RecordView.RecordChain chain(@Nullable String broken) {
        Event last = run.events().get(run.events().size() - 1);
        return new RecordView.RecordChain(
                EventCodec.hash(EventCodec.write(last)),
                run.events().size(),
                broken,
                finished.software(),
                last.origin(),
                run.unknown().size());
    }

    /** The instant at which an event was made; absent for one that is not there. */
    static @Nullable Instant at(RunState run, java.util.@Nullable UUID event) {
        return event == null
                ? null
                : run.events().stream()
                        .filter(e -> e.id().equals(event))
                        .map(Event::at)
                        .findFirst()
                        .orElse(null);
    }
}
