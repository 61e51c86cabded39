package org.juratest.server.command;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.OptionalDouble;
import java.util.OptionalInt;
import org.juratest.core.run.Refusal;
import org.juratest.core.signal.FmAnalysis;
import org.juratest.core.signal.Fsk4Analysis;
import org.juratest.core.signal.Iq;
import org.juratest.core.signal.SignalException;
import org.juratest.core.signal.ToneAnalysis;
import org.juratest.formats.json.CoreJson;
import org.juratest.formats.wav.Wav;
import org.juratest.formats.wav.WavException;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/** Analyses of WAVE files: one channel of sound, or I and Q in two. */
final class SignalFiles {

    private interface Signal {
        ObjectNode of(Wav wav);
    }

    private SignalFiles() {}

    static ObjectNode audio(String input) throws IOException {
        return analysed(input, wav -> {
            ToneAnalysis analysis = ToneAnalysis.of(wav.channels()[0], wav.rate());
            ObjectNode result = CoreJson.mapper().createObjectNode();
            AnalyseCommand.put(result, "sinad_dB", analysis.sinad());
            AnalyseCommand.put(result, "sinadVoice_dB", analysis.sinadVoice());
            AnalyseCommand.put(
                    result,
                    "thd_pct",
                    analysis.distortion(
                            ToneAnalysis.LOWEST, analysis.nyquist(), org.juratest.core.signal.Weighting.NONE));
            ToneAnalysis.Tone tone = analysis.tone();
            AnalyseCommand.put(
                    result, "tone_Hz", tone == null ? OptionalDouble.empty() : OptionalDouble.of(tone.frequency()));
            List<String> warnings = new ArrayList<>(analysis.warnings());
            if (wav.channels().length > 1) {
                warnings.add("the file has " + wav.channels().length + " channels; the first is analysed");
            }
            if (tone != null && analysis.sinadVoice().isEmpty()) {
                warnings.add("the tone lies outside 300 to 3400 Hz");
            }
            return warned(result, warnings);
        });
    }

    static ObjectNode fm(String input) throws IOException {
        return analysed(input, wav -> {
            FmAnalysis analysis = FmAnalysis.of(iq(wav));
            ObjectNode result = CoreJson.mapper().createObjectNode();
            AnalyseCommand.put(result, "frequencyError_Hz", analysis.frequencyError());
            AnalyseCommand.put(result, "deviationPos_Hz", analysis.deviationPositive());
            AnalyseCommand.put(result, "deviationNeg_Hz", analysis.deviationNegative());
            AnalyseCommand.put(result, "tone_Hz", frequency(analysis.tone()));
            AnalyseCommand.put(result, "subTone_Hz", frequency(analysis.subTone()));
            AnalyseCommand.put(
                    result,
                    "subToneDeviation_Hz",
                    analysis.subTone()
                            .map(t -> OptionalDouble.of(t.amplitude()))
                            .orElse(OptionalDouble.empty()));
            AnalyseCommand.put(result, "residualFm_Hz", analysis.residualFm());
            return warned(result, analysis.warnings());
        });
    }

    private static OptionalDouble frequency(Optional<ToneAnalysis.Tone> tone) {
        return tone.map(t -> OptionalDouble.of(t.frequency())).orElse(OptionalDouble.empty());
    }

    static ObjectNode fsk4(String input) throws IOException {
        return analysed(input, wav -> {
            Fsk4Analysis analysis = Fsk4Analysis.of(iq(wav));
            ObjectNode result = CoreJson.mapper().createObjectNode();
            AnalyseCommand.put(result, "ber", analysis.ber());
            put(result, "bits", analysis.bits());
            put(result, "errors", analysis.errors());
            AnalyseCommand.put(result, "symbolDeviation_Hz", analysis.symbolDeviation());
            return warned(result, analysis.warnings());
        });
    }

    private static void put(ObjectNode node, String name, OptionalInt value) {
        if (value.isPresent()) {
            node.put(name, value.getAsInt());
        } else {
            node.putNull(name);
        }
    }

    private static Iq iq(Wav wav) {
        if (wav.channels().length != 2) {
            throw new Refusal(
                    "two-channels", "I and Q are two channels; the file has " + wav.channels().length, "INPUT");
        }
        return new Iq(wav.channels()[0], wav.channels()[1], wav.rate());
    }

    private static ObjectNode warned(ObjectNode result, List<String> warnings) {
        ArrayNode list = result.putArray("warnings");
        warnings.forEach(list::add);
        return result;
    }

    private static ObjectNode analysed(String input, Signal signal) throws IOException {
        try {
            return signal.of(Wav.read(Files.readAllBytes(Path.of(input))));
        } catch (WavException e) {
            throw new Refusal("bad-wave", String.valueOf(e.getMessage()), "INPUT");
        } catch (SignalException e) {
            throw new Refusal(e.code(), String.valueOf(e.getMessage()), "INPUT");
        }
    }
}
