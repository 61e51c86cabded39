package org.juratest.formats.sor;

import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * A trace file (SR-4731, "Optical Time Domain Reflectometer (OTDR) Data Format", issue 2 of 2011; issue 1 as GR-196 of
 * 1995). Every value of the standard blocks is kept as it stands there, in the units of the standard; blocks that it
 * does not know, and what stands in a known block behind the last value it knows, are kept byte by byte. Arrays are not
 * copied: whoever gets them does not change them.
 *
 * @param edition issue of the format, 1 or 2
 * @param revision of the map, hundredths
 * @param blocks in the order of the file, without the map
 * @param warnings what is odd and did not keep the file from being read
 * @param starts byte at which each block begins in the file that was read; empty for one that is made
 */
public record SorFile(
        int edition, int revision, List<Block> blocks, List<String> warnings, Map<String, Integer> starts) {

    /** One that is made, and read from nowhere. */
    public SorFile(int edition, int revision, List<Block> blocks) {
        this(edition, revision, blocks, List.of(), Map.of());
    }

    /** Speed of light in vacuum, m/s (exact, SI). */
    public static final double LIGHT = 299_792_458;
    /** Units of the file in a group index of 1. */
    private static final double GROUP_INDEX = 1e5;
    /** Seconds in a unit of time of the file: 100 ps. */
    private static final double TICK = 1e-10;
    /** The spacing of samples is told for so many. */
    private static final double SPACING_OF = 10_000;

    /** A part of the file under a name. */
    public sealed interface Block permits General, Supplier, Fixed, KeyEvents, Link, Data, Checksum, Other {

        /** As the map calls it. */
        String name();

        /** Hundredths. */
        int revision();

        /** Bytes behind the last value that is known; mostly none. */
        byte[] rest();
    }

    /**
     * What was measured, where, by whom. Texts are single bytes of Latin 1.
     *
     * @param language two letters
     * @param fibreType ITU-T recommendation as a number, 652; 0 in issue 1, which does not say
     * @param wavelength nm
     * @param from originating location
     * @param to terminating location
     * @param condition of the data: {@code BC} as built, {@code CC} as is, {@code RC} as repaired, {@code OT} other
     * @param userOffset 100 ps
     * @param userOffsetDistance in the units of distance, tenths; 0 in issue 1
     */
    public record General(
            int revision,
            String language,
            String cable,
            String fibre,
            int fibreType,
            int wavelength,
            String from,
            String to,
            String cableCode,
            String condition,
            int userOffset,
            int userOffsetDistance,
            String operator,
            String comment,
            byte[] rest)
            implements Block {

        @Override
        public String name() {
            return SorNames.GENERAL;
        }
    }

    /** What it was measured with. */
    public record Supplier(
            int revision,
            String supplier,
            String mainframe,
            String mainframeSerial,
            String module,
            String moduleSerial,
            String software,
            String other,
            byte[] rest)
            implements Block {

        @Override
        public String name() {
            return SorNames.SUPPLIER;
        }
    }

    /**
     * Samples of one pulse width.
     *
     * @param width ns
     * @param spacing time between samples one way, 10^-14 s
     * @param points samples
     */
    public record Pulse(int width, long spacing, long points) {}

    /**
     * How it was measured.
     *
     * @param at seconds since 1970
     * @param units of distance: {@code km}, {@code mt}, {@code ft}, {@code kf}, {@code mi}
     * @param wavelength of the laser, tenths of nm
     * @param offset acquisition offset, 100 ps
     * @param offsetDistance likewise in units of distance, tenths; 0 in issue 1
     * @param groupIndex 10^-5
     * @param backscatter at 1 ns, tenths of dB below
     * @param averages that were taken
     * @param averagingTime tenths of s; 0 in issue 1
     * @param range acquisition range, 100 ps
     * @param rangeDistance likewise in units of distance, tenths; 0 in issue 1
     * @param frontPanelOffset 100 ps
     * @param noiseFloor 0.001 dB below
     * @param noiseScale of the noise floor, thousandths
     * @param firstPower attenuation at the first sample, 0.001 dB
     * @param lossThreshold 0.001 dB
     * @param reflectanceThreshold 0.001 dB below
     * @param endThreshold 0.001 dB
     * @param traceType {@code ST} standard, {@code RT} reverse, {@code DT} difference, {@code RF} reference; blank in
     *     issue 1
     * @param window of the display, two corners; empty in issue 1
     */
    public record Fixed(
            int revision,
            long at,
            String units,
            int wavelength,
            int offset,
            int offsetDistance,
            List<Pulse> pulses,
            long groupIndex,
            int backscatter,
            long averages,
            int averagingTime,
            long range,
            int rangeDistance,
            int frontPanelOffset,
            int noiseFloor,
            int noiseScale,
            int firstPower,
            int lossThreshold,
            int reflectanceThreshold,
            int endThreshold,
            String traceType,
            List<Integer> window,
            byte[] rest)
            implements Block {

        @Override
        public String name() {
            return SorNames.FIXED;
        }

        /** Between two samples of a pulse width along the fibre, m. */
        public double metres(Pulse pulse) {
            return pulse.spacing * TICK / SPACING_OF * LIGHT / (groupIndex / GROUP_INDEX);
        }

        /** How far light comes in a time one way, m. */
        public double metresOf(long ticks) {
            return ticks * TICK * LIGHT / (groupIndex / GROUP_INDEX);
        }
    }

    /**
     * An event as the instrument found it.
     *
     * @param time one way, 100 ps
     * @param attenuation of the fibre before it, 0.001 dB/km
     * @param loss 0.001 dB
     * @param reflectance 0.001 dB
     * @param code six signs
     * @param technique two signs: {@code LS} least squares, {@code 2P} two points
     * @param markers five times, 100 ps; empty in issue 1
     */
    public record KeyEvent(
            int number,
            long time,
            int attenuation,
            int loss,
            int reflectance,
            String code,
            String technique,
            List<Long> markers,
            String comment) {}

    /**
     * The table of events of the instrument, and what it says of the whole.
     *
     * @param loss end to end, 0.001 dB
     * @param lossFrom begin of what the loss is of, 100 ps
     * @param lossTo end of it
     * @param returnLoss 0.001 dB
     * @param returnFrom begin of what the return loss is of, 100 ps
     * @param returnTo end of it
     */
    public record KeyEvents(
            int revision,
            List<KeyEvent> events,
            int loss,
            int lossFrom,
            int lossTo,
            int returnLoss,
            int returnFrom,
            int returnTo,
            byte[] rest)
            implements Block {

        @Override
        public String name() {
            return SorNames.EVENTS;
        }
    }

    /**
     * Something along the cable.
     *
     * @param code two letters
     * @param location 100 ps
     * @param event number of the event that belongs to it; 0 for none
     * @param longitude as the file writes it (degrees, minutes and hundredths as one number)
     * @param latitude likewise
     * @param correction of fibre to cable length before it, 0.01 %
     * @param sheathIn sheath marker where the cable comes in
     * @param sheathOut where it goes out
     * @param sheathUnits of the markers
     * @param modeField diameter of what leaves, 0.01 um; 0 in issue 1
     */
    public record Landmark(
            int number,
            String code,
            long location,
            int event,
            int longitude,
            int latitude,
            int correction,
            long sheathIn,
            long sheathOut,
            String sheathUnits,
            int modeField,
            String comment) {}

    /** The landmarks of a cable. */
    public record Link(int revision, List<Landmark> landmarks, byte[] rest) implements Block {

        @Override
        public String name() {
            return SorNames.LINK;
        }
    }

    /**
     * Samples under one scale.
     *
     * @param scale thousandths
     * @param codes unsigned, 0.001 dB below the scale's zero, before the scale
     */
    public record Trace(int scale, short[] codes) {

        /** How far below a sample lies, dB. */
        public double below(int sample) {
            return Short.toUnsignedInt(codes[sample]) * (scale / 1000.0) / 1000;
        }
    }

    /** The samples: of each pulse width, one after the other. */
    public record Data(int revision, List<Trace> traces, byte[] rest) implements Block {

        @Override
        public String name() {
            return SorNames.DATA;
        }

        /** Samples of all traces. */
        public long points() {
            return traces.stream().mapToLong(t -> t.codes.length).sum();
        }
    }

    /** The check sum as the file has it. */
    public record Checksum(int revision, int value, byte[] rest) implements Block {

        @Override
        public String name() {
            return SorNames.CHECKSUM;
        }
    }

    /** A block that the standard does not know: a supplier's own. */
    public record Other(String name, int revision, byte[] rest) implements Block {}

    private <T extends Block> Optional<T> first(Class<T> kind) {
        return blocks.stream().filter(kind::isInstance).map(kind::cast).findFirst();
    }

    public Optional<General> general() {
        return first(General.class);
    }

    public Optional<Supplier> supplier() {
        return first(Supplier.class);
    }

    /** What is said of a block whose values cannot be. */
    public SorException fault(String block, String reason) {
        return new SorException(block, starts.getOrDefault(block, 0), reason);
    }

    /** How it was measured: without it a file is refused. */
    public Fixed fixed() {
        return first(Fixed.class).orElseThrow();
    }

    public Optional<KeyEvents> events() {
        return first(KeyEvents.class);
    }

    public Optional<Link> link() {
        return first(Link.class);
    }

    /** The samples: without them a file is refused. */
    public Data data() {
        return first(Data.class).orElseThrow();
    }
}
