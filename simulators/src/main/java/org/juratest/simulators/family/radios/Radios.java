package org.juratest.simulators.family.radios;

import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import org.juratest.simulators.fleet.Fleet;
import tools.jackson.core.type.TypeReference;

/** How the radios of the valley behave. */
public final class Radios {

    /** By this name the fleet keeps them. */
    static final String FAMILY = "radios";

    private Radios() {}

    /** The radios of a fleet. */
    public static List<Radio> of(Fleet fleet) {
        return fleet.truth(FAMILY, new TypeReference<>() {});
    }

    /**
     * A radio as it behaves.
     *
     * @param ppm its reference is off by, with the reference setting in the middle
     * @param settings in its memory
     * @param spacing of channels, Hz
     * @param outer deviation of the outer symbols, Hz; 0 for one without a digital mode
     * @param microphone V rms for 60 % of the greatest deviation
     * @param soundVolts V rms it gives
     * @param idleAmperes drawn when squelched
     */
    public record Radio(
            String asset,
            String position,
            String maker,
            String model,
            String serial,
            String firmware,
            String configuration,
            Map<String, RadioBand> bands,
            double ppm,
            Map<String, Integer> settings,
            double spacing,
            double outer,
            double microphone,
            double soundVolts,
            double supplyVolts,
            double idleAmperes) {

        public Radio withSettings(Map<String, Integer> now) {
            return new Radio(
                    asset,
                    position,
                    maker,
                    model,
                    serial,
                    firmware,
                    configuration,
                    bands,
                    ppm,
                    new TreeMap<>(now),
                    spacing,
                    outer,
                    microphone,
                    soundVolts,
                    supplyVolts,
                    idleAmperes);
        }
    }

    /**
     * A band of a radio.
     *
     * @param rated W
     * @param powerDecibels how far its power is off, dB
     * @param deviationGain 1 for as it should be
     * @param imbalance of the modulator, share
     * @param tiltDecibels of deviation, 300 Hz against 3 kHz
     * @param limiter 1 for as it should be
     * @param noiseHz of its modulator, rms
     * @param deafDecibels how much its noise figure is worse than usual
     * @param soundBend second harmonic of its sound, share
     * @param frontEndBest setting at which its front end is in tune
     */
    public record RadioBand(
            double low,
            double high,
            double rated,
            double powerDecibels,
            double deviationGain,
            double imbalance,
            double tiltDecibels,
            double limiter,
            double noiseHz,
            double deafDecibels,
            double soundBend,
            int frontEndBest) {

        public double middle() {
            return Math.round((low + high) / 2 / 12_500) * 12_500.0;
        }
    }
}
