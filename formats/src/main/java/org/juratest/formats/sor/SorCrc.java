package org.juratest.formats.sor;

/** CRC-16 of SR-4731: x^16 + x^12 + x^5 + 1 (ITU-T V.41), begun with ones, highest bit first, not inverted. */
final class SorCrc {

    private static final int POLYNOMIAL = 0x1021;
    private static final int[] TABLE = new int[256];

    static {
        for (int i = 0; i < TABLE.length; i++) {
            int crc = i << 8;
            for (int bit = 0; bit < 8; bit++) {
                crc = (crc & 0x8000) != 0 ? crc << 1 ^ POLYNOMIAL : crc << 1;
            }
            TABLE[i] = crc & 0xffff;
        }
    }

    private SorCrc() {}

    /** Of the first bytes. */
    static int of(byte[] bytes, int count) {
        int crc = 0xffff;
        for (int i = 0; i < count; i++) {
            crc = (crc << 8 ^ TABLE[(crc >> 8 ^ bytes[i]) & 0xff]) & 0xffff;
        }
        return crc;
    }
}
