package org.juratest.formats.family.breakers;

import java.time.Instant;
import java.time.LocalDateTime;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import org.jspecify.annotations.Nullable;
import org.juratest.core.family.breakers.DigitisedCurrent;
import org.juratest.core.family.breakers.FiledCurrent;
import org.juratest.core.method.Filed;
import org.juratest.core.run.Attempt;
import org.juratest.core.run.AttemptEvents;
import org.juratest.core.run.GearFacts;
import org.juratest.core.run.Refusal;
import org.juratest.core.run.RunState;
import org.juratest.core.trace.Trace;
import org.juratest.formats.analyse.RefusedInput;
import org.juratest.formats.capture.CaptureFormat;
import org.juratest.formats.comtrade.Comtrade;
import org.juratest.formats.comtrade.ComtradeBundle;
import org.juratest.formats.comtrade.ComtradeException;

/** Digitised currents as records of the trade (IEEE C37.111-2013, in one file), and back. */
public final class CurrentCaptures implements CaptureFormat {

    /** A clock that was never set says so. */
    private static final Instant EARLIEST = Instant.parse("1990-01-01T00:00:00Z");

    private static final Comtrade.Clock UNIVERSAL = new Comtrade.Clock("0", "0", "F", 3);

    @Override
    public String mediaType() {
        return "application/x-comtrade";
    }

    @Override
    public String suffix() {
        return ComtradeBundle.SUFFIX;
    }

    @Override
    public String usualName() {
        return "{position}_{lane}_{n}";
    }

    @Override
    public boolean writes(AttemptEvents.Captured captured) {
        return DigitisedCurrent.is(captured);
    }

    @Override
    public boolean recognises(String name, byte[] bytes) {
        return name.toLowerCase(Locale.ROOT).endsWith(ComtradeBundle.SUFFIX) || ComtradeBundle.begins(bytes);
    }

    @Override
    public Filed read(String name, byte[] bytes) {
        try {
            return filed(name, ComtradeBundle.read(bytes));
        } catch (ComtradeException e) {
            Map<String, Object> place = new LinkedHashMap<>();
            place.put("file", e.file());
            place.put("place", e.place());
            throw new RefusedInput(place, e.reason());
        } catch (Refusal e) {
            throw new RefusedInput(Map.of("file", name), String.valueOf(e.getMessage()));
        }
    }

    private static Filed filed(String name, Comtrade record) {
        List<String> warnings = new ArrayList<>();
        CurrentChannels.Channel channel = CurrentChannels.chosen(record, "", warnings);
        if (!(record.lineFrequency() > 0)) {
            throw new Refusal("no-frequency", "the record does not tell its line frequency", "INPUT");
        }
        Comtrade.Analog analog = record.analogs().stream()
                .filter(a -> a.name().equals(channel.name()))
                .findFirst()
                .orElseThrow();
        String plain = name.replaceAll("(?i)\\.cff$", "");
        String lane = record.device().strip();
        Set<String> lanes = new TreeSet<>();
        for (String part : plain.split("_")) {
            add(lanes, part);
        }
        add(lanes, lane);
        add(lanes, analog.phase());
        Set<String> names = new TreeSet<>();
        names.add(record.station().strip());
        names.add(plain);
        // The pattern that files are named by begins with the position.
        names.add(plain.split("_")[0]);
        names.removeIf(String::isBlank);
        return new Filed(
                "IEEE C37.111-" + record.year(),
                names,
                taken(record, warnings),
                null,
                null,
                new TreeMap<>(Map.of("lane", lane, "phase", analog.phase().strip())),
                FiledCurrent.of(new DigitisedCurrent(record.time(), channel.current(), record.lineFrequency()), lanes),
                warnings);
    }

    private static @Nullable Instant taken(Comtrade record, List<String> warnings) {
        // Its clock may be of the place, and does not say of which before 2013: a day is all that is meant here.
        Instant taken = record.start().toInstant(ZoneOffset.UTC);
        if (taken.isBefore(EARLIEST) || taken.isAfter(Instant.now().plusSeconds(86_400))) {
            warnings.add("the file says that it was taken at " + record.start() + ", which cannot be");
            return null;
        }
        return taken;
    }

    private static void add(Set<String> to, String name) {
        if (!name.isBlank()) {
            to.add(name.strip().toLowerCase(Locale.ROOT));
        }
    }

    @Override
    public Optional<byte[]> write(RunState state, AttemptEvents.Captured captured, Trace trace) {
        Attempt attempt = state.attempt(captured.attempt()).orElse(null);
        if (attempt == null || !writes(captured)) {
            return Optional.empty();
        }
        DigitisedCurrent current = DigitisedCurrent.of(trace, captured);
        double[] time = current.time();
        double first = time[0];
        for (int i = 0; i < time.length; i++) {
            time[i] -= first;
        }
        LocalDateTime start = LocalDateTime.ofInstant(attempt.at().plusNanos((long) (first * 1e9)), ZoneOffset.UTC);
        String gear = state.gear().stream()
                .filter(g -> g.id().equals(attempt.gear()))
                .findFirst()
                .map(GearFacts::serial)
                .orElse("");
        String phase = attempt.lane().contains(".")
                ? attempt.lane().substring(0, attempt.lane().indexOf('.'))
                : attempt.lane();
        Comtrade record = new Comtrade(
                named(state.opened().asset().position()),
                named(attempt.lane()),
                2013,
                List.of(Comtrade.Analog.plain(1, named(gear.isEmpty() ? "I" : "I " + gear), named(phase), "A")),
                List.of(),
                current.frequency(),
                List.of(),
                start,
                start,
                Comtrade.Form.FLOAT32,
                1,
                UNIVERSAL,
                time,
                new double[][] {current.current()},
                List.of());
        return Optional.of(ComtradeBundle.write(record, Comtrade.Form.FLOAT32));
    }

    /** A comma or a line break parts fields there. */
    private static String named(String text) {
        return text.replaceAll("[,\\p{Cntrl}]", " ");
    }
}
