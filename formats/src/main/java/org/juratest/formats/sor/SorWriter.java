package org.juratest.formats.sor;

import java.io.ByteArrayOutputStream;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;

/** Writes trace files: what was read comes out byte for byte, but for the map, which counts anew, and the check sum. */
public final class SorWriter {

    private final int edition;

    private SorWriter(int edition) {
        this.edition = edition;
    }

    /**
     * Writes a file in its own issue; the check sum is worked out anew.
     *
     * @throws IllegalArgumentException if a text has a sign that is none of Latin 1, or an array of another length
     */
    public static byte[] write(SorFile file) {
        return new SorWriter(file.edition()).bytes(file);
    }

    /** Bytes that grow, little-endian. */
    private static final class Out {
        private final ByteArrayOutputStream bytes = new ByteArrayOutputStream();

        Out u16(long value) {
            return number(value, 2);
        }

        Out u32(long value) {
            return number(value, 4);
        }

        /** Signed or unsigned: either must fit. */
        private Out number(long value, int size) {
            long most = 1L << 8 * size;
            if (value >= most || value < -most / 2) {
                throw new IllegalArgumentException(value + " does not go into " + size + " bytes");
            }
            for (int i = 0; i < size; i++) {
                bytes.write((int) (value >> 8 * i));
            }
            return this;
        }

        Out signs(String text, int count) {
            byte[] latin = latin(text);
            if (latin.length != count) {
                throw new IllegalArgumentException("\"" + text + "\" is not " + count + " signs");
            }
            bytes.writeBytes(latin);
            return this;
        }

        Out text(String text) {
            if (text.indexOf(0) >= 0) {
                throw new IllegalArgumentException("\"" + text + "\" would end before its end");
            }
            bytes.writeBytes(latin(text));
            bytes.write(0);
            return this;
        }

        Out raw(byte[] more) {
            bytes.writeBytes(more);
            return this;
        }

        private static byte[] latin(String text) {
            byte[] latin = text.getBytes(StandardCharsets.ISO_8859_1);
            if (!new String(latin, StandardCharsets.ISO_8859_1).equals(text)) {
                throw new IllegalArgumentException("\"" + text + "\" has a sign that a trace file cannot hold");
            }
            return latin;
        }
    }

    private byte[] bytes(SorFile file) {
        List<byte[]> bodies = new ArrayList<>();
        for (SorFile.Block block : file.blocks()) {
            bodies.add(body(block));
        }
        Out entries = new Out();
        for (int i = 0; i < bodies.size(); i++) {
            SorFile.Block block = file.blocks().get(i);
            entries.text(block.name()).u16(block.revision()).u32(bodies.get(i).length);
        }
        byte[] lines = entries.bytes.toByteArray();
        Out out = new Out();
        if (edition == 2) {
            out.text(SorNames.MAP);
        }
        int head = out.bytes.size() + 2 + 4 + 2;
        out.u16(file.revision()).u32(head + (long) lines.length).u16(bodies.size() + 1L);
        out.raw(lines);
        for (int i = 0; i < bodies.size(); i++) {
            byte[] body = bodies.get(i);
            if (file.blocks().get(i) instanceof SorFile.Checksum sum) {
                // Whatever stood there: it is of the bytes before it, its own name among them.
                if (edition == 2) {
                    out.text(SorNames.CHECKSUM);
                }
                byte[] before = out.bytes.toByteArray();
                out.u16(SorCrc.of(before, before.length)).raw(sum.rest());
            } else {
                out.raw(body);
            }
        }
        return out.bytes.toByteArray();
    }

    private byte[] body(SorFile.Block block) {
        Out out = new Out();
        if (edition == 2 && !(block instanceof SorFile.Other)) {
            out.text(block.name());
        }
        if (block instanceof SorFile.General g) {
            general(out, g);
        } else if (block instanceof SorFile.Supplier s) {
            out.text(s.supplier())
                    .text(s.mainframe())
                    .text(s.mainframeSerial())
                    .text(s.module())
                    .text(s.moduleSerial())
                    .text(s.software())
                    .text(s.other());
        } else if (block instanceof SorFile.Fixed f) {
            fixed(out, f);
        } else if (block instanceof SorFile.KeyEvents e) {
            events(out, e);
        } else if (block instanceof SorFile.Link l) {
            link(out, l);
        } else if (block instanceof SorFile.Data d) {
            out.u32(d.points()).u16(d.traces().size());
            for (SorFile.Trace t : d.traces()) {
                out.u32(t.codes().length).u16(t.scale());
                for (short code : t.codes()) {
                    out.u16(code);
                }
            }
        } else if (block instanceof SorFile.Checksum c) {
            out.u16(c.value());
        }
        return out.raw(block.rest()).bytes.toByteArray();
    }

    private void general(Out out, SorFile.General g) {
        out.signs(g.language(), 2).text(g.cable()).text(g.fibre());
        if (edition == 2) {
            out.u16(g.fibreType());
        }
        out.u16(g.wavelength())
                .text(g.from())
                .text(g.to())
                .text(g.cableCode())
                .signs(g.condition(), 2)
                .u32(g.userOffset());
        if (edition == 2) {
            out.u32(g.userOffsetDistance());
        }
        out.text(g.operator()).text(g.comment());
    }

    private void fixed(Out out, SorFile.Fixed f) {
        out.u32(f.at()).signs(f.units(), 2).u16(f.wavelength()).u32(f.offset());
        if (edition == 2) {
            out.u32(f.offsetDistance());
        }
        out.u16(f.pulses().size());
        f.pulses().forEach(p -> out.u16(p.width()));
        f.pulses().forEach(p -> out.u32(p.spacing()));
        f.pulses().forEach(p -> out.u32(p.points()));
        out.u32(f.groupIndex()).u16(f.backscatter()).u32(f.averages());
        if (edition == 2) {
            out.u16(f.averagingTime());
        }
        out.u32(f.range());
        if (edition == 2) {
            out.u32(f.rangeDistance());
        }
        out.u32(f.frontPanelOffset())
                .u16(f.noiseFloor())
                .u16(f.noiseScale())
                .u16(f.firstPower())
                .u16(f.lossThreshold())
                .u16(f.reflectanceThreshold())
                .u16(f.endThreshold());
        if (edition == 2) {
            out.signs(f.traceType(), 2);
            if (f.window().size() != 4) {
                throw new IllegalArgumentException(
                        "a window has 4 numbers, not " + f.window().size());
            }
            f.window().forEach(out::u32);
        }
    }

    private void events(Out out, SorFile.KeyEvents e) {
        out.u16(e.events().size());
        for (SorFile.KeyEvent k : e.events()) {
            out.u16(k.number())
                    .u32(k.time())
                    .u16(k.attenuation())
                    .u16(k.loss())
                    .u32(k.reflectance())
                    .signs(k.code(), 6)
                    .signs(k.technique(), 2);
            if (edition == 2) {
                if (k.markers().size() != 5) {
                    throw new IllegalArgumentException(
                            "an event has 5 markers, not " + k.markers().size());
                }
                k.markers().forEach(out::u32);
            }
            out.text(k.comment());
        }
        out.u32(e.loss())
                .u32(e.lossFrom())
                .u32(e.lossTo())
                .u16(e.returnLoss())
                .u32(e.returnFrom())
                .u32(e.returnTo());
    }

    private void link(Out out, SorFile.Link l) {
        out.u16(l.landmarks().size());
        for (SorFile.Landmark m : l.landmarks()) {
            out.u16(m.number())
                    .signs(m.code(), 2)
                    .u32(m.location())
                    .u16(m.event())
                    .u32(m.longitude())
                    .u32(m.latitude())
                    .u16(m.correction())
                    .u32(m.sheathIn())
                    .u32(m.sheathOut())
                    .signs(m.sheathUnits(), 2);
            if (edition == 2) {
                out.u16(m.modeField());
            }
            out.text(m.comment());
        }
    }
}
