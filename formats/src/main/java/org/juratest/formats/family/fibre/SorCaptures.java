package org.juratest.formats.family.fibre;

import java.nio.charset.StandardCharsets;
import java.time.Instant;
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
import org.juratest.core.family.fibre.FiledTrace;
import org.juratest.core.family.fibre.KeptTrace;
import org.juratest.core.family.fibre.OtdrTrace;
import org.juratest.core.method.Filed;
import org.juratest.core.procedure.Param;
import org.juratest.core.procedure.Step;
import org.juratest.core.route.Route;
import org.juratest.core.run.AssetFacts;
import org.juratest.core.run.Attempt;
import org.juratest.core.run.AttemptEvents;
import org.juratest.core.run.GearFacts;
import org.juratest.core.run.RunState;
import org.juratest.core.trace.Trace;
import org.juratest.formats.analyse.RefusedInput;
import org.juratest.formats.capture.CaptureFormat;
import org.juratest.formats.sor.SorException;
import org.juratest.formats.sor.SorFile;
import org.juratest.formats.sor.SorReader;
import org.juratest.formats.sor.SorWriter;

/** Trace files of reflectometers (SR-4731) as captures of links, and back. */
public final class SorCaptures implements CaptureFormat {

    private static final String SUFFIX = ".sor";
    private static final byte[] MAP = "Map\0".getBytes(StandardCharsets.US_ASCII);
    /** Before this nobody measured what is tested here; clocks that were never set say 1970 or 1980. */
    private static final Instant EARLIEST = Instant.parse("1990-01-01T00:00:00Z");
    /** 100 ps, s. */
    private static final double TICK = 1e-10;

    private static final int EDITION = 2;
    private static final int REVISION = 200;

    @Override
    public String mediaType() {
        return "application/x-sor";
    }

    @Override
    public String suffix() {
        return SUFFIX;
    }

    @Override
    public String usualName() {
        return "{cable}_{lane}_{from}_{to}_{wavelength}_{n}";
    }

    @Override
    public boolean writes(AttemptEvents.Captured captured) {
        return captured.mediaType().equals(RunState.TRACE_TYPE)
                && captured.facts().containsKey("wavelength")
                && captured.facts().containsKey("pulse");
    }

    @Override
    public boolean recognises(String name, byte[] bytes) {
        return name.toLowerCase(Locale.ROOT).endsWith(SUFFIX)
                || bytes.length > MAP.length && java.util.Arrays.equals(bytes, 0, MAP.length, MAP, 0, MAP.length);
    }

    @Override
    public Filed read(String name, byte[] bytes) {
        try {
            return filed(name, SorReader.read(bytes));
        } catch (SorException e) {
            Map<String, Object> place = new LinkedHashMap<>();
            place.put("block", e.block());
            place.put("offset", e.offset());
            throw new RefusedInput(place, e.reason());
        }
    }

    private static Filed filed(String name, SorFile file) {
        SorTrace read = SorTrace.of(file);
        SorFile.General general = file.general().orElse(null);
        SorFile.Supplier supplier = file.supplier().orElse(null);
        List<String> warnings = new ArrayList<>(read.warnings());
        Instant taken = Instant.ofEpochSecond(file.fixed().at());
        if (taken.isBefore(EARLIEST) || taken.isAfter(Instant.now().plusSeconds(86_400))) {
            warnings.add("the file says that it was taken at " + taken + ", which cannot be");
            taken = null;
        }
        Set<String> names = new TreeSet<>();
        String fibre = general == null ? "" : general.fibre().strip();
        String plain = name.replaceAll("(?i)\\.sor$", "");
        if (general != null) {
            add(names, general.cable());
            add(names, general.cableCode());
        }
        add(names, plain);
        // The pattern files are named by begins with the cable and goes on with the fibre.
        int dash = plain.indexOf('_');
        add(names, dash > 0 ? plain.substring(0, dash) : "");
        String[] parts = plain.split("_");
        if (fibre.isEmpty() && parts.length > 1) {
            fibre = parts[1];
        }
        double lead = general == null ? 0 : Math.max(0, file.fixed().metresOf(general.userOffset()));
        Map<String, String> facts = new TreeMap<>();
        facts.put(
                "wavelength", String.format(Locale.ROOT, "%.0f nm", read.trace().wavelength()));
        facts.put("pulse", String.format(Locale.ROOT, "%.0f ns", read.trace().pulse()));
        facts.put("fibre", fibre);
        facts.put("cable", general == null ? "" : general.cable().strip());
        facts.put("from", general == null ? "" : general.from().strip());
        facts.put("to", general == null ? "" : general.to().strip());
        String gear = supplier == null
                ? ""
                : (supplier.supplier().strip() + " " + supplier.mainframe().strip()).strip();
        String serial = supplier == null ? "" : supplier.mainframeSerial().strip();
        return new Filed(
                "SR-4731 issue " + file.edition(),
                names,
                taken,
                gear.isEmpty() ? null : gear,
                serial.isEmpty() ? null : serial,
                facts,
                new FiledTrace(
                        read.trace(),
                        lead,
                        fibre,
                        facts.get("from"),
                        facts.get("to"),
                        SorTrace.isReversed(file) ? Boolean.TRUE : null),
                warnings);
    }

    private static void add(Set<String> names, @Nullable String name) {
        if (name != null && !name.isBlank()) {
            names.add(name.strip());
        }
    }

    @Override
    public Optional<byte[]> write(RunState state, AttemptEvents.Captured captured, Trace trace) {
        Attempt attempt = state.attempt(captured.attempt()).orElse(null);
        if (attempt == null || !writes(captured)) {
            return Optional.empty();
        }
        OtdrTrace kept;
        try {
            kept = KeptTrace.of(trace, captured.facts());
        } catch (IllegalArgumentException e) {
            return Optional.empty();
        }
        return Optional.of(SorWriter.write(file(state, attempt, captured, kept)));
    }

    private static SorFile file(RunState state, Attempt attempt, AttemptEvents.Captured captured, OtdrTrace trace) {
        AssetFacts asset = state.opened().asset();
        Step step = state.procedure().step(attempt.step()).orElseThrow().at(attempt.lane());
        Param far = step.params().get("farEnd");
        boolean reversed = far != null && far.value() != null && far.value() > 0;
        Route route = Optional.ofNullable(asset.nameplate().texts().get("route"))
                .flatMap(Route::kept)
                .orElse(null);
        String near = route == null ? asset.position() : route.points().get(0).name();
        String end = route == null
                ? ""
                : route.points().get(route.points().size() - 1).name();
        int length = trace.level().length;
        long index = Math.round(trace.groupIndex() * 1e5);
        double metresPerTick = TICK * OtdrTrace.LIGHT / trace.groupIndex();
        double lead = Double.parseDouble(captured.facts().getOrDefault("lead", "0"));
        double averaging = Double.parseDouble(captured.facts().getOrDefault("averaging", "0"));
        GearFacts gear = state.gear().stream()
                .filter(g -> g.id().equals(attempt.gear()))
                .findFirst()
                .orElse(null);
        short[] codes = new short[length];
        // The scale of a file begins at its highest sample; what a trace says lies in the differences.
        double top = Math.max(
                trace.top(), java.util.Arrays.stream(trace.level()).max().orElse(0));
        for (int i = 0; i < length; i++) {
            double below = (top - trace.level()[i]) * 1000;
            codes[i] = (short) (int) Math.round(Math.max(0, Math.min(65_535, below)));
        }
        double last = trace.position(length - 1);
        byte[] none = new byte[0];
        SorFile.General general = new SorFile.General(
                REVISION,
                "EN",
                latin(asset.nameplate().texts().getOrDefault("cable", asset.position())),
                latin(attempt.lane()),
                652,
                (int) Math.round(trace.wavelength()),
                latin(reversed ? end : near),
                latin(reversed ? near : end),
                latin(asset.position()),
                "CC",
                (int) Math.round(lead / metresPerTick),
                (int) Math.round(lead * 10),
                "",
                "record "
                        + (state.finished() == null
                                ? "not finished"
                                : state.finished().record()),
                none);
        SorFile.Supplier supplier = new SorFile.Supplier(
                REVISION,
                gear == null ? "" : latin(gear.maker()),
                gear == null ? "" : latin(gear.model()),
                gear == null ? "" : latin(gear.serial()),
                "",
                "",
                "",
                "",
                none);
        SorFile.Fixed fixed = new SorFile.Fixed(
                REVISION,
                attempt.at().getEpochSecond(),
                "mt",
                (int) Math.round(trace.wavelength() * 10),
                (int) Math.round(trace.first() / metresPerTick),
                (int) Math.round(trace.first() * 10),
                List.of(new SorFile.Pulse(
                        (int) Math.round(trace.pulse()), Math.round(trace.spacing() / metresPerTick * 1e4), length)),
                index,
                (int) Math.round(-trace.backscatter() * 10),
                0,
                (int) Math.round(averaging * 10),
                Math.round(last / metresPerTick),
                (int) Math.round(last * 10),
                0,
                0,
                1000,
                0,
                0,
                0,
                0,
                reversed ? "RT" : "ST",
                List.of(0, 0, 0, 0),
                none);
        return new SorFile(
                EDITION,
                REVISION,
                List.of(
                        general,
                        supplier,
                        fixed,
                        new SorFile.Data(REVISION, List.of(new SorFile.Trace(1000, codes)), none),
                        new SorFile.Checksum(REVISION, 0, none)));
    }

    /** Texts of a file are of single bytes; a sign that has none becomes a question mark. */
    private static String latin(String text) {
        return new String(text.getBytes(StandardCharsets.ISO_8859_1), StandardCharsets.ISO_8859_1).replace('\0', '?');
    }
}
