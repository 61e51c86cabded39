package org.juratest.formats.family.meters;

import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import org.juratest.core.family.meters.Burden;
import org.juratest.core.family.meters.PhaseQuantities;
import org.juratest.core.family.meters.ThreePhase;
import org.juratest.core.family.meters.WiringCheck;
import org.juratest.core.run.Refusal;
import org.juratest.core.signal.SignalException;
import org.juratest.formats.analyse.Analyses;
import org.juratest.formats.analyse.Analysis;
import org.juratest.formats.analyse.AnalysisFamily;
import org.juratest.formats.analyse.RefusedInput;
import org.juratest.formats.comtrade.Comtrade;
import org.juratest.formats.comtrade.ComtradeException;
import org.juratest.formats.comtrade.ComtradeFile;
import org.juratest.formats.comtrade.UnitChannels;
import org.juratest.formats.json.CoreJson;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/** {@code analyse phasors} and {@code analyse burden}: records of voltages and currents (IEEE C37.111). */
public final class MeterAnalyses implements AnalysisFamily {

    private static final String LEADS = "leads";
    private static final String LAGS = "lags";
    private static final String DIRECTION = "direction";
    private static final String NOMINAL = "nominal";
    /** Of a sample, by which another may come early or late. */
    private static final double UNEVEN = 0.02;

    @Override
    public List<Analysis> analyses() {
        return List.of(
                new OfRecord(
                        "phasors",
                        List.of(
                                new Analysis.Option(LEADS, "by how many degrees the load may lead; 15", false),
                                new Analysis.Option(LAGS, "by how many degrees it may lag; 50", false),
                                new Analysis.Option(DIRECTION, "import or export; import", false)),
                        MeterAnalyses::phasors),
                new OfRecord(
                        "burden",
                        List.of(new Analysis.Option(NOMINAL, "nominal secondary current, A; 5", false)),
                        MeterAnalyses::burden));
    }

    private interface Work {
        ObjectNode of(Comtrade record, Map<String, String> options);
    }

    private record OfRecord(String kind, List<Option> options, Work work) implements Analysis {
        @Override
        public ObjectNode of(List<Path> inputs, Map<String, String> options) throws IOException {
            try {
                return work.of(ComtradeFile.read(inputs.get(0)), options);
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

    /** Samples a second of an evenly sampled record. */
    private static double rate(Comtrade record) {
        double[] time = record.time();
        if (time.length < 2) {
            throw new Refusal("too-short", "the record has " + time.length + " samples", "INPUT");
        }
        double step = (time[time.length - 1] - time[0]) / (time.length - 1);
        for (int k = 1; k < time.length; k++) {
            if (!(Math.abs(time[k] - time[k - 1] - step) <= UNEVEN * step)) {
                throw new Refusal(
                        "uneven-samples",
                        "sample " + (k + 1) + " comes after " + (time[k] - time[k - 1]) + " s, the others after " + step
                                + " s; phasors need one rate",
                        "INPUT");
            }
        }
        return 1 / step;
    }

    private static double number(Map<String, String> options, String name, double usual, double low, double high) {
        String given = options.getOrDefault(name, "");
        if (given.isEmpty()) {
            return usual;
        }
        try {
            double value = Double.parseDouble(given);
            if (value >= low && value <= high) {
                return value;
            }
        } catch (NumberFormatException e) {
            // Refused below, as what is out of range is.
        }
        throw new Refusal(
                "bad-option",
                String.format(Locale.ROOT, "--%s is a number from %.3g to %.3g, not \"%s\"", name, low, high, given),
                name);
    }

    private static double[][] three(Comtrade record, String unit, String what, List<String> warnings) {
        List<UnitChannels.Channel> all = UnitChannels.of(record, unit);
        if (all.size() < 3) {
            throw new Refusal(
                    "no-" + what,
                    "three " + what + "s in " + unit + " are needed; the record has " + all.size(),
                    "INPUT");
        }
        if (all.size() > 3) {
            warnings.add("the record has " + all.size() + " " + what + "s; the first three are analysed, "
                    + String.join(
                            ", ",
                            all.subList(0, 3).stream()
                                    .map(c -> c.name().strip())
                                    .toList()));
        }
        return all.subList(0, 3).stream().map(UnitChannels.Channel::values).toArray(double[][]::new);
    }

    private static WiringCheck.Assumed assumed(Map<String, String> options) {
        String direction = options.getOrDefault(DIRECTION, "");
        WiringCheck.Direction goes =
                switch (direction) {
                    case "", "import" -> WiringCheck.Direction.IMPORT;
                    case "export" -> WiringCheck.Direction.EXPORT;
                    default ->
                        throw new Refusal(
                                "bad-option", "--direction is import or export, not \"" + direction + "\"", DIRECTION);
                };
        WiringCheck.Assumed usual = WiringCheck.Assumed.USUAL;
        return new WiringCheck.Assumed(
                number(options, LEADS, usual.leads(), 0, 90),
                number(options, LAGS, usual.lags(), 0, 90),
                usual.apart(),
                goes);
    }

    private static ObjectNode phasors(Comtrade record, Map<String, String> options) {
        List<String> warnings = new ArrayList<>();
        WiringCheck.Assumed assumed = assumed(options);
        double[][] voltages = three(record, "V", "voltage", warnings);
        double[][] currents = three(record, "A", "current", warnings);
        ThreePhase found = ThreePhase.of(rate(record), voltages, currents);
        ObjectNode result = CoreJson.mapper().createObjectNode();
        ArrayNode phases = result.putArray("phases");
        for (PhaseQuantities p : found.phases()) {
            ObjectNode node = phases.addObject();
            put(node, "u_V", p.voltage());
            put(node, "uAngle_deg", p.voltageAngle());
            put(node, "i_A", p.current());
            put(node, "iAngle_deg", p.currentAngle());
            put(node, "p_W", p.active());
            put(node, "q_var", p.reactive());
            put(node, "s_VA", p.apparent());
            put(node, "pf", p.powerFactor());
        }
        result.put("rotation", found.rotation().name().toLowerCase(Locale.ROOT));
        ArrayNode wirings = result.putArray("wirings");
        List<WiringCheck.Wiring> fits = WiringCheck.fitting(found, assumed);
        for (WiringCheck.Wiring wiring : fits) {
            ObjectNode node = wirings.addObject();
            node.put("name", wiring.name());
            node.put("assumes", assumed.words());
        }
        if (fits.isEmpty()) {
            warnings.add("no wiring fits a load of that kind: " + assumed.words());
        }
        WiringCheck.missingVoltages(found).forEach(k -> warnings.add("voltage " + k + " is missing"));
        WiringCheck.missingCurrents(found).forEach(k -> warnings.add("no current at input " + k));
        return Analyses.warned(result, warnings);
    }

    private static ObjectNode burden(Comtrade record, Map<String, String> options) {
        List<String> warnings = new ArrayList<>();
        double nominal = number(options, NOMINAL, 5, 0.1, 10);
        double[] voltage = first(record, "V", "voltage", warnings);
        double[] current = first(record, "A", "current", warnings);
        // One phase: the same voltage three times says the same thrice.
        ThreePhase found = ThreePhase.of(
                rate(record), new double[][] {voltage, voltage, voltage}, new double[][] {current, current, current});
        if (!(found.currents().get(0).rms() > 0)) {
            throw new Refusal("no-current", "no current flows through the burden", "INPUT");
        }
        Burden burden = Burden.of(found.voltages().get(0), found.currents().get(0), nominal);
        ObjectNode result = CoreJson.mapper().createObjectNode();
        put(result, "va", burden.va());
        put(result, "angle_deg", burden.degrees());
        put(result, "pf", burden.powerFactor());
        put(result, "vaNominal", burden.vaNominal());
        return Analyses.warned(result, warnings);
    }

    private static double[] first(Comtrade record, String unit, String what, List<String> warnings) {
        List<UnitChannels.Channel> all = UnitChannels.of(record, unit);
        if (all.isEmpty()) {
            throw new Refusal("no-" + what, "the record has no " + what + " in " + unit, "INPUT");
        }
        if (all.size() > 1) {
            warnings.add("the record has " + all.size() + " " + what + "s; the first is analysed, "
                    + all.get(0).name().strip());
        }
        return all.get(0).values();
    }

    private static void put(ObjectNode node, String name, double value) {
        if (Double.isFinite(value)) {
            node.put(name, value);
        } else {
            node.putNull(name);
        }
    }
}
