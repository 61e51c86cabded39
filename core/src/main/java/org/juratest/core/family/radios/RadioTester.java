package org.juratest.core.family.radios;

import org.juratest.core.port.Energising;
import org.juratest.core.port.SetPoint;
import org.juratest.core.signal.Iq;

/**
 * A radio test set: one RF port that either takes in a transmitter or gives out a signal, sound to and from the radio,
 * its supply. Levels are at its own port. {@link #outputOn} switches its generator on.
 */
public interface RadioTester extends Energising {

    /** Greatest power its RF port takes, dBm. */
    double greatestInput();

    /** Highest level its generator gives, dBm. */
    double greatestLevel();

    /** What a generator puts onto its carrier. */
    enum Modulation {
        NONE,
        /** A tone, frequency modulated. */
        FM,
        /** The pseudo-random sequence, four-level keyed. */
        FSK4
    }

    /**
     * A signal of the generator.
     *
     * @param hertz carrier, Hz
     * @param dbm level, dBm
     * @param deviation peak of the tone, or of the outer symbols, Hz
     * @param tone Hz
     */
    record Signal(
            @SetPoint("signal") double hertz,
            @SetPoint("level") double dbm,
            Modulation modulation,
            double deviation,
            double tone) {}

    /** Sets the generator; it sounds once the output is on. */
    void generate(Signal signal);

    /** Changes the generator's level, dBm. */
    void level(@SetPoint("level") double dbm);

    /** Sound to the radio's microphone input: tone in Hz, volts rms; 0 V for none. */
    void speak(double hertz, @SetPoint(value = "microphone", first = false) double volts);

    /**
     * Tunes the analyser.
     *
     * @param hertz centre, Hz
     * @param fullScale level at which samples reach full scale, dBm
     */
    void tune(double hertz, double fullScale);

    /**
     * What the analyser took in.
     *
     * @param fullScale level of 0 dBFS, dBm
     */
    record Capture(Iq iq, double fullScale) {
        /** Mean level, dBm; negative infinity for silence. */
        public double dbm() {
            return fullScale + iq.dbfs();
        }
    }

    /** Takes in baseband for a time, s. */
    Capture capture(double seconds);

    /** Sound from the radio: volts, and samples a second. */
    record Sound(double[] volts, double rate) {
        public Sound {
            volts = volts.clone();
        }

        @Override
        public double[] volts() {
            return volts.clone();
        }
    }

    /** Takes in sound for a time, s. */
    Sound hear(double seconds);

    /** Current the radio draws from its supply, A. */
    double supplyCurrent();
}
