package org.juratest.formats.family.breakers;

import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import org.juratest.core.family.breakers.Operations;
import org.juratest.core.family.breakers.PickUp;
import org.juratest.core.run.Refusal;
import org.juratest.core.signal.SignalException;
import org.juratest.formats.analyse.Analyses;
import org.juratest.formats.analyse.Analysis;
import org.juratest.formats.analyse.AnalysisFamily;
import org.juratest.formats.analyse.RefusedInput;
import org.juratest.formats.comtrade.Comtrade;
import org.juratest.formats.comtrade.ComtradeException;
import org.juratest.formats.comtrade.ComtradeFile;
import org.juratest.formats.json.CoreJson;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/** {@code analyse recloser} and {@code analyse pickup}: current records (IEEE C37.111). */
public final class BreakerAnalyses implements AnalysisFamily {

    private static final String CHANNEL = "channel";
    private static final String BY = "by";

    @Override
    public List<Analysis> analyses() {
        return List.of(
                new OfRecord("recloser", List.of(channel()), BreakerAnalyses::recloser),
                new OfRecord(
                        "pickup",
                        List.of(
                                channel(),
                                new Analysis.Option(BY, "fall or levelling; both, one after the other", false)),
                        BreakerAnalyses::pickUp));
    }

    private static Analysis.Option channel() {
        return new Analysis.Option(CHANNEL, "name of the current; the largest where there are several", false);
    }

    private interface Work {
        ObjectNode of(Comtrade record, CurrentChannels.Channel current, Map<String, String> options);
    }

    private record OfRecord(String kind, List<Option> options, Work work) implements Analysis {
        @Override
        public ObjectNode of(List<Path> inputs, Map<String, String> options) throws IOException {
            try {
                Comtrade record = ComtradeFile.read(inputs.get(0));
                List<String> warnings = new ArrayList<>();
                CurrentChannels.Channel current =
                        CurrentChannels.chosen(record, options.getOrDefault(CHANNEL, ""), warnings);
                ObjectNode result = work.of(record, current, options);
                result.path("warnings").forEach(w -> warnings.add(w.asString()));
                return Analyses.warned(result, warnings);
            } catch (ComtradeException e) {
                Map<String, Object> place = new LinkedHashMap<>();
                place.put("file", e.file());
                place.put("place", e.place());
                throw new RefusedInput(place, String.valueOf(e.getMessage()));
            } catch (SignalException e) {
                throw new Refusal(e.code(), String.valueOf(e.getMessage()), "INPUT");
            }
        }
    }

    private static ObjectNode recloser(Comtrade record, CurrentChannels.Channel current, Map<String, String> options) {
        Operations found = Operations.of(record.time(), current.current(), record.lineFrequency());
        ObjectNode result = CoreJson.mapper().createObjectNode();
        ArrayNode operations = result.putArray("operations");
        for (Operations.Operation op : found.all()) {
            ObjectNode node = operations.addObject();
            node.put("index", operations.size());
            node.put("tripTime_s", op.tripTime());
            Analyses.put(node, "openTime_s", op.openTime());
            node.put("rms_A", op.rms());
            node.put("start_s", op.start());
        }
        result.put("lockout", found.lockout());
        List<String> warnings = new ArrayList<>();
        if (found.flowsAtStart()) {
            warnings.add("current flows when the record begins: the first trip took longer than told");
        }
        if (found.flowsAtEnd()) {
            warnings.add("current flows when the record ends: what it is then is no operation yet");
        }
        return Analyses.warned(result, warnings);
    }

    private static ObjectNode pickUp(Comtrade record, CurrentChannels.Channel current, Map<String, String> options) {
        String by = options.getOrDefault(BY, "");
        Optional<PickUp> found = Optional.empty();
        for (PickUp.Detector detector : PickUp.Detector.values()) {
            if (found.isEmpty() && (by.isEmpty() || by.equals(name(detector)))) {
                found = PickUp.of(record.time(), current.current(), record.lineFrequency(), detector);
            }
        }
        if (!by.isEmpty() && List.of(PickUp.Detector.values()).stream().noneMatch(d -> name(d).equals(by))) {
            throw new Refusal("bad-option", "--by is fall or levelling, not \"" + by + "\"", BY);
        }
        ObjectNode result = CoreJson.mapper().createObjectNode();
        List<String> warnings = new ArrayList<>();
        if (found.isPresent()) {
            result.put("pickup_A", found.get().current());
            result.put("method", name(found.get().by()));
        } else {
            result.putNull("pickup_A");
            result.putNull("method");
            warnings.add("nothing shows where the contacts part: no fall, and the ramp does not level off");
        }
        return Analyses.warned(result, warnings);
    }

    private static String name(PickUp.Detector detector) {
        return detector.name().toLowerCase(Locale.ROOT);
    }
}
