package org.juratest.simulators.family.fibre;

import java.io.ByteArrayOutputStream;
import java.nio.charset.StandardCharsets;
import java.util.LinkedHashMap;
import java.util.Map;

/**
 * A trace as a reflectometer saves it: SR-4731 issue 2 with the blocks that everybody writes (map, general, supplier
 * and fixed parameters, samples, check sum), little-endian. It shares no code with what reads it.
 *
 * @param cable its name
 * @param fibre from 1 on
 * @param from where light went in
 * @param to where the fibre ends
 * @param place code of the cable's place
 * @param at seconds since 1970
 * @param shot what was sent
 * @param samples 0.001 dB below the top of the scale
 */
record SavedTrace(String cable, int fibre, String from, String to, String place, long at, Shot shot, short[] samples) {

    private static final int REVISION = 200;
    /** Speed of light, m in 100 ps. */
    private static final double LIGHT = 299_792_458e-10;
    /** ITU-T number of standard single-mode fibre. */
    private static final int SINGLE_MODE = 652;
    /** CRC-16 of ITU-T V.41, from all ones. */
    private static final int POLYNOMIAL = 0x1021;

    byte[] bytes() {
        double metresPerTick = LIGHT / Shot.INDEX;
        double end = shot.spacing() * (samples.length - 1);
        Bytes general = new Bytes().text("GenParams").signs("EN").text(cable).text(String.valueOf(fibre));
        general.u16(SINGLE_MODE)
                .u16(shot.wavelength())
                .text(from)
                .text(to)
                .text(place)
                .signs("CC");
        general.u32(Math.round(Shot.LEAD / metresPerTick))
                .u32(Math.round(Shot.LEAD * 10))
                .text("")
                .text("");
        Bytes supplier =
                new Bytes().text("SupParams").text("Orbessa").text("RF-4").text("OB-4107");
        supplier.text("").text("").text("1.7").text("");
        Bytes fixed = new Bytes()
                .text("FxdParams")
                .u32(at)
                .signs("mt")
                .u16(shot.wavelength() * 10L)
                .u32(0)
                .u32(0);
        fixed.u16(1).u16(Math.round(shot.pulse())).u32(Math.round(shot.spacing() / metresPerTick * 1e4));
        fixed.u32(samples.length)
                .u32(Math.round(Shot.INDEX * 1e5))
                .u16(Math.round(-Shot.SCATTER * 10))
                .u32(0);
        fixed.u16(Math.round(shot.seconds() * 10))
                .u32(Math.round(end / metresPerTick))
                .u32(Math.round(end * 10));
        fixed.u32(0).u16(0).u16(1000).u16(0).u16(0).u16(0).u16(0).signs(shot.far() ? "RT" : "ST");
        fixed.u32(0).u32(0).u32(0).u32(0);
        Bytes data = new Bytes()
                .text("DataPts")
                .u32(samples.length)
                .u16(1)
                .u32(samples.length)
                .u16(1000);
        for (short sample : samples) {
            data.u16(sample);
        }
        Map<String, Bytes> blocks = new LinkedHashMap<>();
        blocks.put("GenParams", general);
        blocks.put("SupParams", supplier);
        blocks.put("FxdParams", fixed);
        blocks.put("DataPts", data);
        blocks.put("Cksum", new Bytes().text("Cksum").u16(0));
        Bytes lines = new Bytes();
        blocks.forEach((name, block) -> lines.text(name).u16(REVISION).u32(block.size()));
        Bytes out = new Bytes().text("Map").u16(REVISION);
        out.u32(out.size() + 6L + lines.size()).u16(blocks.size() + 1L).more(lines);
        blocks.forEach((name, block) -> {
            if (name.equals("Cksum")) {
                // Of everything before it, its name among that.
                out.text(name);
                out.u16(checksum(out.all()));
            } else {
                out.more(block);
            }
        });
        return out.all();
    }

    private static int checksum(byte[] bytes) {
        int sum = 0xffff;
        for (byte b : bytes) {
            sum ^= (b & 0xff) << 8;
            for (int bit = 0; bit < 8; bit++) {
                sum = (sum & 0x8000) != 0 ? sum << 1 ^ POLYNOMIAL : sum << 1;
            }
            sum &= 0xffff;
        }
        return sum;
    }

    /** Bytes that grow, least significant first. */
    private static final class Bytes {
        private final ByteArrayOutputStream bytes = new ByteArrayOutputStream();

        Bytes u16(long value) {
            bytes.write((int) value);
            bytes.write((int) (value >> 8));
            return this;
        }

        Bytes u32(long value) {
            return u16(value).u16(value >> 16);
        }

        Bytes signs(String text) {
            bytes.writeBytes(text.getBytes(StandardCharsets.ISO_8859_1));
            return this;
        }

        Bytes text(String text) {
            signs(text);
            bytes.write(0);
            return this;
        }

        Bytes more(Bytes other) {
            bytes.writeBytes(other.all());
            return this;
        }

        int size() {
            return bytes.size();
        }

        byte[] all() {
            return bytes.toByteArray();
        }
    }
}
