package org.juratest.formats.wav;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalDouble;
import org.juratest.core.run.Refusal;
import org.juratest.core.signal.FmAnalysis;
import org.juratest.core.signal.Fsk4Analysis;
import org.juratest.core.signal.Iq;
import org.juratest.core.signal.SignalException;
import org.juratest.core.signal.ToneAnalysis;
import org.juratest.formats.analyse.Analyses;
import org.juratest.formats.analyse.Analysis;
import org.juratest.formats.analyse.AnalysisFamily;
import org.juratest.formats.json.CoreJson;
import tools.jackson.databind.node.ObjectNode;

/** Analyses of WAVE files, {@code audio}, {@code fm} and {@code fsk4}: one channel of sound, or I and Q in two. */
public final class WavAnalyses implements AnalysisFamily {

    private interface Signal {
        ObjectNode of(Wav wav);
    }

    private record Of(String kind, Signal signal) implements Analysis {
        @Override
        public ObjectNode of(List<Path> inputs, Map<String, String> options) throws IOException {
            return analysed(inputs.get(0), signal);
        }
    }

    @Override
    public List<Analysis> analyses() {
        return List.of(
                new Of("audio", WavAnalyses::audio), new Of("fm", WavAnalyses::fm), new Of("fsk4", WavAnalyses::fsk4));
    }

    private static ObjectNode audio(Wav wav) {
        ToneAnalysis analysis = ToneAnalysis.of(wav.channels()[0], wav.rate());
        ObjectNode result = CoreJson.mapper().createObjectNode();
        Analyses.put(result, "sinad_dB", analysis.sinad());
        Analyses.put(result, "sinadVoice_dB", analysis.sinadVoice());
        Analyses.put(result, "thd_pct", analysis.harmonicDistortion());
        Analyses.put(result, "thdn_pct", analysis.distortionWithNoise());
        ToneAnalysis.Tone tone = analysis.tone();
        Analyses.put(result, "tone_Hz", tone == null ? OptionalDouble.empty() : OptionalDouble.of(tone.frequency()));
        List<String> warnings = new ArrayList<>(analysis.warnings());
        if (wav.channels().length > 1) {
            warnings.add("the file has " + wav.channels().length + " channels; the first is analysed");
        }
        if (tone != null && analysis.sinadVoice().isEmpty()) {
            warnings.add("the tone lies outside 300 to 3400 Hz");
        }
        return Analyses.warned(result, warnings);
    }

    private static ObjectNode fm(Wav wav) {
        FmAnalysis analysis = FmAnalysis.of(iq(wav));
        ObjectNode result = CoreJson.mapper().createObjectNode();
        Analyses.put(result, "frequencyError_Hz", analysis.frequencyError());
        Analyses.put(result, "deviationPos_Hz", analysis.deviationPositive());
        Analyses.put(result, "deviationNeg_Hz", analysis.deviationNegative());
        Analyses.put(result, "tone_Hz", frequency(analysis.tone()));
        Analyses.put(result, "subTone_Hz", frequency(analysis.subTone()));
        Analyses.put(
                result,
                "subToneDeviation_Hz",
                analysis.subTone().map(t -> OptionalDouble.of(t.amplitude())).orElse(OptionalDouble.empty()));
        Analyses.put(result, "residualFm_Hz", analysis.residualFm());
        return Analyses.warned(result, analysis.warnings());
    }

    private static OptionalDouble frequency(Optional<ToneAnalysis.Tone> tone) {
        return tone.map(t -> OptionalDouble.of(t.frequency())).orElse(OptionalDouble.empty());
    }

    private static ObjectNode fsk4(Wav wav) {
        Fsk4Analysis analysis = Fsk4Analysis.of(iq(wav));
        ObjectNode result = CoreJson.mapper().createObjectNode();
        Analyses.put(result, "ber", analysis.ber());
        Analyses.put(result, "bits", analysis.bits());
        Analyses.put(result, "errors", analysis.errors());
        Analyses.put(result, "symbolDeviation_Hz", analysis.symbolDeviation());
        return Analyses.warned(result, analysis.warnings());
    }

    private static Iq iq(Wav wav) {
        if (wav.channels().length != 2) {
            throw new Refusal(
                    "two-channels", "I and Q are two channels; the file has " + wav.channels().length, "INPUT");
        }
        return new Iq(wav.channels()[0], wav.channels()[1], wav.rate());
    }

    private static ObjectNode analysed(Path input, Signal signal) throws IOException {
        try {
            return signal.of(Wav.read(Files.readAllBytes(input)));
        } catch (WavException e) {
            throw new Refusal("bad-wave", String.valueOf(e.getMessage()), "INPUT");
        } catch (SignalException e) {
            throw new Refusal(e.code(), String.valueOf(e.getMessage()), "INPUT");
        }
    }
}
