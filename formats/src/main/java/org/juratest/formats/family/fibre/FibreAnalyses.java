package org.juratest.formats.family.fibre;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.OptionalDouble;
import org.jspecify.annotations.Nullable;
import org.juratest.core.family.fibre.FibreTraces;
import org.juratest.core.family.fibre.Otdr;
import org.juratest.core.family.fibre.OtdrAnalysis;
import org.juratest.core.family.fibre.OtdrEvent;
import org.juratest.core.run.Refusal;
import org.juratest.formats.analyse.Analyses;
import org.juratest.formats.analyse.Analysis;
import org.juratest.formats.analyse.AnalysisFamily;
import org.juratest.formats.analyse.RefusedInput;
import org.juratest.formats.json.CoreJson;
import org.juratest.formats.sor.SorException;
import org.juratest.formats.sor.SorFile;
import org.juratest.formats.sor.SorReader;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/** {@code analyse otdr}: one trace file, or several of one fibre; {@code analyse endface}. */
public final class FibreAnalyses implements AnalysisFamily {

    private static final String LAUNCH = "launch-m";

    @Override
    public List<Analysis> analyses() {
        return List.of(new OtdrOf(), new EndFaceAnalysis());
    }

    private static final class OtdrOf implements Analysis {

        @Override
        public String kind() {
            return "otdr";
        }

        @Override
        public List<Option> options() {
            return List.of(new Option(LAUNCH, "length of the launch lead, m", false));
        }

        @Override
        public boolean isOfSeveral() {
            return true;
        }

        @Override
        public ObjectNode of(List<Path> inputs, Map<String, String> options) throws IOException {
            Double launch = launch(options.get(LAUNCH));
            List<FibreTraces.Taken> taken = new ArrayList<>();
            List<ObjectNode> traces = new ArrayList<>();
            SorFile first = null;
            for (Path input : inputs) {
                try {
                    SorFile file = read(input);
                    first = first == null ? file : first;
                    SorTrace trace = SorTrace.of(file);
                    OtdrAnalysis analysis = Otdr.analyse(trace.trace(), launch);
                    taken.add(new FibreTraces.Taken(analysis, isFromFarEnd(first, file)));
                    traces.add(node(analysis, trace.warnings()));
                } catch (SorException e) {
                    throw refused(e, inputs.size() > 1 ? input : null);
                }
            }
            if (traces.size() == 1) {
                return traces.get(0);
            }
            ObjectNode result = CoreJson.mapper().createObjectNode();
            result.putArray("traces").addAll(traces);
            ArrayNode matched = result.putArray("matched");
            FibreTraces.matched(taken, FibreTraces.BEND).forEach(m -> matched(matched.addObject(), m));
            return result;
        }
    }

    private static SorFile read(Path input) throws IOException {
        // Longer files are refused before they are in memory.
        long size = Files.size(input);
        if (size > SorReader.MOST_BYTES) {
            throw SorReader.tooLong(size);
        }
        return SorReader.read(Files.readAllBytes(input));
    }

    private static RefusedInput refused(SorException e, @Nullable Path of) {
        Map<String, Object> place = new LinkedHashMap<>();
        if (of != null) {
            place.put("file", of.toString());
        }
        place.put("block", e.block());
        place.put("offset", e.offset());
        return new RefusedInput(place, e.reason());
    }

    private static @Nullable Double launch(@Nullable String text) {
        if (text == null) {
            return null;
        }
        try {
            double metres = Double.parseDouble(text);
            if (metres > 0 && metres < 100_000) {
                return metres;
            }
        } catch (NumberFormatException e) {
            // Told below.
        }
        throw new Refusal(
                "bad-option", "--launch-m is a length in m, above 0 and below 100000, not \"" + text + "\"", LAUNCH);
    }

    /** Taken from the other end than the first: it says so, or its locations are the other way round. */
    private static boolean isFromFarEnd(SorFile first, SorFile file) {
        if (file == first) {
            return false;
        }
        if (SorTrace.isReversed(file) != SorTrace.isReversed(first)) {
            return true;
        }
        SorFile.General one = first.general().orElse(null);
        SorFile.General other = file.general().orElse(null);
        return one != null
                && other != null
                && !one.from().isBlank()
                && !one.from().equals(one.to())
                && one.from().equals(other.to())
                && one.to().equals(other.from());
    }

    private static ObjectNode node(OtdrAnalysis analysis, List<String> ofFile) {
        ObjectNode result = CoreJson.mapper().createObjectNode();
        result.put("wavelength_nm", analysis.trace().wavelength());
        result.put("pulse_ns", analysis.trace().pulse());
        put(result, "length_m", analysis.length(), 100);
        put(result, "loss_dB", analysis.loss(), 1000);
        put(result, "orl_dB", analysis.returnLoss(), 1000);
        ArrayNode events = result.putArray("events");
        for (OtdrEvent e : analysis.events()) {
            ObjectNode event = events.addObject();
            put(event, "position_m", e.position(), 100);
            event.put("type", type(e.type()));
            put(event, "loss_dB", e.loss(), 1000);
            put(event, "reflectance_dB", e.reflectance(), 1000);
            put(event, "cumulative_dB", e.cumulative(), 1000);
        }
        List<String> warnings = new ArrayList<>(ofFile);
        warnings.addAll(analysis.warnings());
        return Analyses.warned(result, warnings);
    }

    private static String type(OtdrEvent.Type type) {
        return switch (type) {
            case LAUNCH -> "launch";
            case REFLECTIVE -> "reflective";
            case NON_REFLECTIVE -> "nonReflective";
            case END -> "end";
        };
    }

    private static void matched(ObjectNode node, FibreTraces.Matched event) {
        put(node, "position_m", event.position(), 100);
        ObjectNode losses = node.putObject("losses");
        event.losses().forEach((wavelength, loss) -> put(losses, String.valueOf(wavelength), loss.best(), 1000));
        node.put("kind", event.kind().name().toLowerCase(Locale.ROOT));
    }

    /** Figures no finer than they can be, and without a negative nought. */
    private static void put(ObjectNode node, String name, @Nullable Double value, double parts) {
        Analyses.put(
                node,
                name,
                value == null ? OptionalDouble.empty() : OptionalDouble.of(Math.round(value * parts) / parts));
    }
}
