package org.juratest.core.procedure;

/** What is done in a step. */
public enum StepKind {
    /** A look, answered in words. */
    INSPECTION,
    /** A hold: something a person does and confirms. */
    INSTRUCTION,
    /** A zero or reference, valid for a time. */
    REFERENCE,
    MEASUREMENT,
    /** A ramp or pulses until something happens. */
    SEARCH,
    /** A waveform, trace or image, then its analysis. */
    CAPTURE,
    /** A value read off stand-alone gear. */
    ENTRY,
    /** Computed from other readings of the run. */
    DERIVATION;

    /** Whether a method measures it with gear. */
    public boolean measured() {
        return this == REFERENCE || this == MEASUREMENT || this == SEARCH || this == CAPTURE;
    }
}
