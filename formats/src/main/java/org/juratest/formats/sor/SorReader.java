package org.juratest.formats.sor;

import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;

/** Reads trace files of issue 2 and issue 1, from what any maker's instrument writes. */
public final class SorReader {

    /** Longer files are refused before they are read: ten million samples are more than any instrument takes. */
    public static final int MOST_BYTES = 48 << 20;

    private static final byte[] MAP = "Map\0".getBytes(StandardCharsets.ISO_8859_1);
    /** A name, a revision and a size take so many bytes at least. */
    private static final int LEAST_ENTRY = 7;

    private static final int LEAST_PULSE = 10;
    private static final int LEAST_EVENT = 23;
    private static final int LEAST_LANDMARK = 33;
    private static final int LEAST_TRACE = 6;
    private static final int MARKERS = 5;
    private static final int CORNERS = 4;

    private final byte[] bytes;
    private final int edition;
    private final List<String> warnings = new ArrayList<>();

    private SorReader(byte[] bytes) {
        this.bytes = bytes;
        this.edition = bytes.length >= MAP.length && Arrays.equals(MAP, Arrays.copyOf(bytes, MAP.length)) ? 2 : 1;
    }

    /**
     * Reads a file.
     *
     * @throws SorException naming block and byte if it is no trace file, is cut off, or says what cannot be
     */
    public static SorFile read(byte[] bytes) {
        if (bytes.length > MOST_BYTES) {
            throw tooLong(bytes.length);
        }
        return new SorReader(bytes).file();
    }

    /** What is said of a file of more than {@link #MOST_BYTES}. */
    public static SorException tooLong(long size) {
        return new SorException(
                "file", MOST_BYTES, "it has " + size + " bytes; a trace file has at most " + MOST_BYTES);
    }

    /** A line of the map. */
    private record Entry(String name, int revision, int size) {}

    private SorFile file() {
        SorBytes map = new SorBytes(bytes, SorNames.MAP, 0, bytes.length);
        if (edition == 2) {
            map.text("its name");
        }
        int revision = map.u16("the revision");
        if (revision == 0 || revision >= 10_000) {
            throw new SorException("file", 0, "it does not begin with the map of a trace file");
        }
        long size = map.u32("the size of the map");
        if (size < map.at() + 2L || size > bytes.length) {
            throw new SorException(
                    SorNames.MAP,
                    map.at() - 4L,
                    "the map says that it has " + size + " bytes; the file has " + bytes.length);
        }
        map = new SorBytes(bytes, SorNames.MAP, map.at(), (int) size);
        int count = map.count(map.u16("the number of blocks") - 1L, LEAST_ENTRY, "blocks");
        List<Entry> entries = entries(map, count);
        if (map.rest().length > 0) {
            warnings.add("the map has bytes behind its last line; they are left out");
        }
        List<SorFile.Block> blocks = new ArrayList<>();
        int from = (int) size;
        Map<String, Integer> starts = new HashMap<>();
        for (Entry e : entries) {
            starts.putIfAbsent(e.name, from);
            if (e.size > bytes.length - from) {
                throw new SorException(
                        e.name,
                        from,
                        "the map says that it has " + e.size + " bytes; " + (bytes.length - from)
                                + " are left of the file");
            }
            blocks.add(block(e, from));
            from += e.size;
        }
        if (from < bytes.length) {
            warnings.add((bytes.length - from) + " bytes behind the last block are left out");
        }
        needed(blocks);
        return new SorFile(edition, revision, List.copyOf(blocks), List.copyOf(warnings), Map.copyOf(starts));
    }

    private List<Entry> entries(SorBytes map, int count) {
        List<Entry> entries = new ArrayList<>();
        Set<String> seen = new HashSet<>();
        for (int i = 0; i < count; i++) {
            String name = map.text("the name of block " + (i + 2));
            if (SorNames.STANDARD.contains(name) && !seen.add(name)) {
                throw map.fault("the block " + name + " is there twice");
            }
            int revision = map.u16("the revision of " + name);
            long size = map.u32("the size of " + name);
            if (size > bytes.length) {
                throw map.fault(name + " would have " + size + " bytes; the file has " + bytes.length);
            }
            entries.add(new Entry(name, revision, (int) size));
        }
        return entries;
    }

    private void needed(List<SorFile.Block> blocks) {
        if (blocks.stream().noneMatch(SorFile.Fixed.class::isInstance)) {
            throw new SorException(SorNames.FIXED, bytes.length, "it is not there: nothing says how it was measured");
        }
        if (blocks.stream().noneMatch(SorFile.Data.class::isInstance)) {
            throw new SorException(SorNames.DATA, bytes.length, "it is not there: the file has no samples");
        }
        if (blocks.stream().noneMatch(SorFile.Checksum.class::isInstance)) {
            warnings.add("the file has no check sum");
        }
    }

    private SorFile.Block block(Entry e, int from) {
        SorBytes in = new SorBytes(bytes, e.name, from, from + e.size);
        if (!SorNames.STANDARD.contains(e.name)) {
            return new SorFile.Other(e.name, e.revision, in.rest());
        }
        if (edition == 2) {
            String name = in.text("its name");
            if (!name.equals(e.name)) {
                throw new SorException(e.name, from, "it calls itself \"" + printable(name) + "\"");
            }
        }
        return switch (e.name) {
            case SorNames.GENERAL -> general(in, e.revision);
            case SorNames.SUPPLIER -> supplier(in, e.revision);
            case SorNames.FIXED -> fixed(in, e.revision);
            case SorNames.EVENTS -> events(in, e.revision);
            case SorNames.LINK -> link(in, e.revision);
            case SorNames.DATA -> data(in, e.revision);
            default -> checksum(in, e.revision);
        };
    }

    private static String printable(String text) {
        return text.chars()
                .limit(20)
                .mapToObj(c -> c < ' ' || c > '~' ? "?" : String.valueOf((char) c))
                .collect(java.util.stream.Collectors.joining());
    }

    private SorFile.General general(SorBytes in, int revision) {
        return new SorFile.General(
                revision,
                in.signs(2, "the language"),
                in.text("the cable"),
                in.text("the fibre"),
                edition == 2 ? in.u16("the kind of fibre") : 0,
                in.u16("the wavelength"),
                in.text("the originating location"),
                in.text("the terminating location"),
                in.text("the code of the cable"),
                in.signs(2, "the condition"),
                in.i32("the user offset"),
                edition == 2 ? in.i32("the distance of the user offset") : 0,
                in.text("the operator"),
                in.text("the comment"),
                in.rest());
    }

    private static SorFile.Supplier supplier(SorBytes in, int revision) {
        return new SorFile.Supplier(
                revision,
                in.text("the supplier"),
                in.text("the mainframe"),
                in.text("the serial number of the mainframe"),
                in.text("the module"),
                in.text("the serial number of the module"),
                in.text("the software"),
                in.text("the last text"),
                in.rest());
    }

    private SorFile.Fixed fixed(SorBytes in, int revision) {
        long at = in.u32("the time");
        String units = in.signs(2, "the units of distance");
        int wavelength = in.u16("the wavelength");
        int offset = in.i32("the acquisition offset");
        int offsetDistance = edition == 2 ? in.i32("the distance of the acquisition offset") : 0;
        int count = in.count(in.u16("the number of pulse widths"), LEAST_PULSE, "pulse widths");
        if (count == 0) {
            throw in.fault("it has no pulse width");
        }
        int[] widths = new int[count];
        long[] spacings = new long[count];
        List<SorFile.Pulse> pulses = new ArrayList<>();
        for (int i = 0; i < count; i++) {
            widths[i] = in.u16("a pulse width");
        }
        for (int i = 0; i < count; i++) {
            spacings[i] = in.u32("a spacing of samples");
            if (spacings[i] == 0) {
                throw in.fault("the samples of pulse width " + (i + 1) + " lie no time apart");
            }
        }
        for (int i = 0; i < count; i++) {
            pulses.add(new SorFile.Pulse(widths[i], spacings[i], in.u32("a number of samples")));
        }
        long groupIndex = in.u32("the group index");
        if (groupIndex == 0) {
            throw in.fault("the group index is 0: no distance follows from it");
        }
        return new SorFile.Fixed(
                revision,
                at,
                units,
                wavelength,
                offset,
                offsetDistance,
                List.copyOf(pulses),
                groupIndex,
                in.u16("the backscatter"),
                in.u32("the number of averages"),
                edition == 2 ? in.u16("the averaging time") : 0,
                in.u32("the range"),
                edition == 2 ? in.i32("the distance of the range") : 0,
                in.i32("the offset of the front panel"),
                in.u16("the noise floor"),
                in.i16("the scale of the noise floor"),
                in.u16("the power at the first sample"),
                in.u16("the threshold of loss"),
                in.u16("the threshold of reflectance"),
                in.u16("the threshold of the end"),
                edition == 2 ? in.signs(2, "the kind of trace") : "",
                edition == 2 ? corners(in) : List.of(),
                in.rest());
    }

    private static List<Integer> corners(SorBytes in) {
        List<Integer> corners = new ArrayList<>();
        for (int i = 0; i < CORNERS; i++) {
            corners.add(in.i32("the window"));
        }
        return List.copyOf(corners);
    }

    private SorFile.KeyEvents events(SorBytes in, int revision) {
        int count = in.count(in.u16("the number of events"), LEAST_EVENT, "events");
        List<SorFile.KeyEvent> events = new ArrayList<>();
        for (int i = 0; i < count; i++) {
            events.add(new SorFile.KeyEvent(
                    in.u16("the number of an event"),
                    in.u32("the place of an event"),
                    in.i16("the attenuation before an event"),
                    in.i16("the loss of an event"),
                    in.i32("the reflectance of an event"),
                    in.signs(6, "the code of an event"),
                    in.signs(2, "how a loss was measured"),
                    edition == 2 ? markers(in) : List.of(),
                    in.text("the comment of an event")));
        }
        return new SorFile.KeyEvents(
                revision,
                List.copyOf(events),
                in.i32("the loss end to end"),
                in.i32("the begin of the loss"),
                in.i32("the end of the loss"),
                in.u16("the return loss"),
                in.i32("the begin of the return loss"),
                in.i32("the end of the return loss"),
                in.rest());
    }

    private static List<Long> markers(SorBytes in) {
        List<Long> markers = new ArrayList<>();
        for (int i = 0; i < MARKERS; i++) {
            markers.add(in.u32("a marker of an event"));
        }
        return List.copyOf(markers);
    }

    private SorFile.Link link(SorBytes in, int revision) {
        int count = in.count(in.u16("the number of landmarks"), LEAST_LANDMARK, "landmarks");
        List<SorFile.Landmark> landmarks = new ArrayList<>();
        for (int i = 0; i < count; i++) {
            landmarks.add(new SorFile.Landmark(
                    in.u16("the number of a landmark"),
                    in.signs(2, "the code of a landmark"),
                    in.u32("the place of a landmark"),
                    in.u16("the event of a landmark"),
                    in.i32("a longitude"),
                    in.i32("a latitude"),
                    in.i16("the correction before a landmark"),
                    in.u32("a sheath marker"),
                    in.u32("a sheath marker"),
                    in.signs(2, "the units of the sheath markers"),
                    edition == 2 ? in.u16("a mode field") : 0,
                    in.text("the comment of a landmark")));
        }
        return new SorFile.Link(revision, List.copyOf(landmarks), in.rest());
    }

    private static SorFile.Data data(SorBytes in, int revision) {
        long points = in.u32("the number of samples");
        int scales = in.count(in.u16("the number of scales"), LEAST_TRACE, "scales");
        List<SorFile.Trace> traces = new ArrayList<>();
        long all = 0;
        for (int i = 0; i < scales; i++) {
            long count = in.u32("the number of samples of scale " + (i + 1));
            int scale = in.u16("scale " + (i + 1));
            traces.add(new SorFile.Trace(scale, in.codes(in.count(count, 2, "samples"))));
            all += count;
        }
        if (all != points) {
            throw in.fault("it says that it has " + points + " samples, and has " + all);
        }
        if (all == 0) {
            throw in.fault("it has no samples");
        }
        return new SorFile.Data(revision, List.copyOf(traces), in.rest());
    }

    private SorFile.Checksum checksum(SorBytes in, int revision) {
        int from = in.at();
        int value = in.u16("the check sum");
        int ours = SorCrc.of(bytes, from);
        if (value != ours) {
            warnings.add("the check sum does not fit: the file has " + hexadecimal(value) + ", its bytes give "
                    + hexadecimal(ours) + "; something in it may have been changed or lost");
        }
        return new SorFile.Checksum(revision, value, in.rest());
    }

    private static String hexadecimal(int value) {
        return String.format(java.util.Locale.ROOT, "%04x", value);
    }
}
