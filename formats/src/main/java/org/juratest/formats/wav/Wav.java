package org.juratest.formats.wav;

import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.charset.StandardCharsets;

/**
 * A WAVE file (Microsoft and IBM, "Multimedia Programming Interface and Data Specifications 1.0", 1991; extensible form
 * of 2001): linear PCM of 8, 16, 24 or 32 bits and IEEE floating point of 32 or 64.
 *
 * @param rate samples a second
 * @param channels samples by channel, full scale 1 (PCM codes over 2^(bits-1)); all of one length
 */
public record Wav(int rate, double[][] channels) {

    /** What it is served as. */
    public static final String MEDIA_TYPE = "audio/wav";

    private static final int PCM = 1;
    private static final int FLOAT = 3;
    private static final int EXTENSIBLE = 0xFFFE;
    private static final int MOST_CHANNELS = 64;
    private static final int HEADER = 44;

    private record Format(int tag, int channels, int rate, int bits) {}

    /**
     * Reads a file.
     *
     * @throws WavException naming the byte at fault
     */
    public static Wav read(byte[] file) {
        ByteBuffer in = ByteBuffer.wrap(file).order(ByteOrder.LITTLE_ENDIAN);
        if (file.length < 12 || !id(file, 0).equals("RIFF") || !id(file, 8).equals("WAVE")) {
            throw new WavException(
                    0,
                    file.length < 12
                            ? "the file ends after " + file.length + " bytes"
                            : "this is no WAVE file, it does not begin with RIFF and WAVE");
        }
        Format format = null;
        int at = 12;
        while (at + 8 <= file.length) {
            String chunk = id(file, at);
            long length = in.getInt(at + 4) & 0xFFFFFFFFL;
            int body = at + 8;
            if (chunk.equals("data")) {
                if (format == null) {
                    throw new WavException(at, "the samples come before their format");
                }
                if (length > file.length - body) {
                    throw new WavException(
                            file.length,
                            "the file is cut off: " + length + " bytes of samples were announced, "
                                    + (file.length - body) + " are there");
                }
                return new Wav(format.rate, samples(in, body, (int) length, format));
            }
            if (length > file.length - body) {
                throw new WavException(file.length, "the file is cut off in its part \"" + printable(chunk) + "\"");
            }
            if (chunk.equals("fmt ")) {
                format = format(in, body, (int) length);
            }
            at = body + (int) length + (int) (length % 2);
        }
        throw new WavException(file.length, "the file has no samples");
    }

    private static String id(byte[] file, int at) {
        return new String(file, at, 4, StandardCharsets.ISO_8859_1);
    }

    private static String printable(String chunk) {
        return chunk.replaceAll("[^\\x20-\\x7e]", "?");
    }

    private static Format format(ByteBuffer in, int at, int length) {
        if (length < 16) {
            throw new WavException(at, "the format has " + length + " bytes, it needs 16");
        }
        int tag = in.getShort(at) & 0xFFFF;
        int channels = in.getShort(at + 2) & 0xFFFF;
        int rate = in.getInt(at + 4);
        int bits = in.getShort(at + 14) & 0xFFFF;
        if (tag == EXTENSIBLE) {
            if (length < 40) {
                throw new WavException(at, "the extensible format has " + length + " bytes, it needs 40");
            }
            tag = in.getShort(at + 24) & 0xFFFF;
        }
        if (tag != PCM && tag != FLOAT) {
            throw new WavException(
                    at, "samples are coded as " + tag + "; linear PCM (1) and floating point (3) can be read");
        }
        if (channels < 1 || channels > MOST_CHANNELS) {
            throw new WavException(at + 2, channels + " channels; there must be 1 to " + MOST_CHANNELS);
        }
        if (rate < 1) {
            throw new WavException(at + 4, "a sample rate of " + rate + " makes no sense");
        }
        boolean known = tag == PCM ? bits == 8 || bits == 16 || bits == 24 || bits == 32 : bits == 32 || bits == 64;
        if (!known) {
            throw new WavException(
                    at + 14, "samples of " + bits + " bits; PCM has 8, 16, 24 or 32, floating point 32 or 64");
        }
        return new Format(tag, channels, rate, bits);
    }

    private static double[][] samples(ByteBuffer in, int at, int length, Format format) {
        int width = format.bits / 8;
        int frame = width * format.channels;
        if (length % frame != 0) {
            throw new WavException(at + (long) length / frame * frame, "the last sample is cut off");
        }
        double[][] channels = new double[format.channels][length / frame];
        for (int n = 0; n < length / frame; n++) {
            for (int c = 0; c < format.channels; c++) {
                int place = at + n * frame + c * width;
                double value = sample(in, place, format);
                if (!(Math.abs(value) <= Double.MAX_VALUE)) {
                    throw new WavException(place, "sample " + n + " is not a number: " + value);
                }
                channels[c][n] = value;
            }
        }
        return channels;
    }

    private static double sample(ByteBuffer in, int at, Format format) {
        if (format.tag == FLOAT) {
            return format.bits == 32 ? in.getFloat(at) : in.getDouble(at);
        }
        return switch (format.bits) {
            case 8 -> ((in.get(at) & 0xFF) - 128) / 128.0;
            case 16 -> in.getShort(at) / 32768.0;
            case 24 -> ((in.get(at + 2) << 16) | ((in.get(at + 1) & 0xFF) << 8) | (in.get(at) & 0xFF)) / 8388608.0;
            default -> in.getInt(at) / 2147483648.0;
        };
    }

    /**
     * A file of 16-bit PCM; what is beyond full scale stands at it.
     *
     * @throws IllegalArgumentException if channels differ in length, there is none, or a sample is not finite
     */
    public byte[] pcm16() {
        ByteBuffer out = begun(PCM, 16);
        each((value, n, c) -> out.putShort((short) Math.max(-32768, Math.min(32767, Math.round(value * 32768)))));
        return out.array();
    }

    /** A file of 32-bit floating point; otherwise as {@link #pcm16}. */
    public byte[] float32() {
        ByteBuffer out = begun(FLOAT, 32);
        each((value, n, c) -> out.putFloat((float) value));
        return out.array();
    }

    private interface Put {
        void sample(double value, int n, int channel);
    }

    private void each(Put put) {
        for (int n = 0; n < channels[0].length; n++) {
            for (int c = 0; c < channels.length; c++) {
                if (!(Math.abs(channels[c][n]) <= Double.MAX_VALUE)) {
                    throw new IllegalArgumentException(
                            "sample " + n + " of channel " + c + " is not a number: " + channels[c][n]);
                }
                put.sample(channels[c][n], n, c);
            }
        }
    }

    private ByteBuffer begun(int tag, int bits) {
        if (channels.length == 0 || channels.length > MOST_CHANNELS) {
            throw new IllegalArgumentException(
                    "there must be 1 to " + MOST_CHANNELS + " channels, not " + channels.length);
        }
        for (double[] channel : channels) {
            if (channel.length != channels[0].length) {
                throw new IllegalArgumentException(
                        "channels have " + channels[0].length + " and " + channel.length + " samples");
            }
        }
        int frame = bits / 8 * channels.length;
        int bytes = Math.multiplyExact(frame, channels[0].length);
        ByteBuffer out = ByteBuffer.allocate(HEADER + bytes).order(ByteOrder.LITTLE_ENDIAN);
        out.put("RIFF".getBytes(StandardCharsets.US_ASCII))
                .putInt(HEADER - 8 + bytes)
                .put("WAVEfmt ".getBytes(StandardCharsets.US_ASCII))
                .putInt(16);
        out.putShort((short) tag)
                .putShort((short) channels.length)
                .putInt(rate)
                .putInt(rate * frame)
                .putShort((short) frame)
                .putShort((short) bits);
        return out.put("data".getBytes(StandardCharsets.US_ASCII)).putInt(bytes);
    }
}
