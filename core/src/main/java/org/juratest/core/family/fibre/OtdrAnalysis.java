package org.juratest.core.family.fibre;

import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * What a trace says of a fibre.
 *
 * @param trace it is of
 * @param zero what positions count from, m from the front of the instrument
 * @param frontLevel level of the backscatter at position 0, dB on the scale of the trace; NaN where there is none
 * @param length from position 0 to the end, m; absent where no end is seen
 * @param loss from position 0 to before the end, dB, without the port's own; absent where no end is seen
 * @param returnLoss optical return loss as seen at position 0, the port's reflection left out and the end's left in,
 *     dB; absent where no end is seen
 * @param noise level of the noise, dB on the scale of the trace; NaN where none is seen
 * @param events by position; the first is the launch
 * @param sections of fibre between events, by position
 * @param warnings in words
 */
public record OtdrAnalysis(
        OtdrTrace trace,
        double zero,
        double frontLevel,
        @Nullable Double length,
        @Nullable Double loss,
        @Nullable Double returnLoss,
        double noise,
        List<OtdrEvent> events,
        List<Section> sections,
        List<String> warnings) {

    public OtdrAnalysis {
        events = List.copyOf(events);
        sections = List.copyOf(sections);
        warnings = List.copyOf(warnings);
    }

    /**
     * Fibre between two events.
     *
     * @param from m
     * @param to m
     * @param attenuation dB/km
     * @param sigma its standard deviation, dB/km
     */
    public record Section(double from, double to, double attenuation, double sigma) {}
}
