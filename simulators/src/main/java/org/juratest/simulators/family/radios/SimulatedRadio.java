package org.juratest.simulators.family.radios;

import java.util.Map;
import java.util.Random;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;

/**
 * A radio as it behaves: a crystal that is off by so much, a power stage, a modulator, a receiver with noise of its
 * own. Its settings are whole numbers in its memory. It makes samples; what they amount to is not computed here.
 */
final class SimulatedRadio {

    /** ppm for one step of the reference setting. */
    private static final double REFERENCE_STEP = 0.035;
    /** Share of deviation for one step. */
    private static final double DEVIATION_STEP = 0.006;
    /** dB of tilt, 300 Hz against 3 kHz, for one step of balance. */
    private static final double BALANCE_STEP = 0.08;

    private static final int MIDDLE = 128;
    private static final int POWER_MIDDLE = 160;
    private static final double SYMBOLS = 4800;
    private static final int PULSE = 8;
    /** Places a symbol in the table of a pulse. */
    private static final int FINER = 2048;

    private static final double[] PULSES = pulses();
    /** Noise of the receiver's input at 0 dB noise figure, dBm per Hz. */
    private static final double THERMAL = -174;
    /** What a filter before the mixer takes off a signal in the next channel, dB. */
    private static final double ROOFING = 10;

    private static final double NOISE_FIGURE = 6;

    private final Radios.Radio truth;
    private final Map<String, Integer> settings;
    private final Map<String, Double> faults = new TreeMap<>();
    private final Random random;
    private double frequency;
    private double spacing = 12_500;
    private boolean keyed;
    private boolean digital;
    private boolean highPower = true;
    private double subTone;
    private boolean squelchHeld = true;
    private boolean squelchOpen;
    private double phase;
    private int bit;

    SimulatedRadio(Radios.Radio truth) {
        this.truth = truth;
        this.settings = new TreeMap<>(truth.settings());
        this.random = new Random(truth.serial().hashCode());
        this.frequency = truth.bands().values().iterator().next().middle();
    }

    synchronized Radios.Radio truth() {
        return truth.withSettings(settings);
    }

    /** A fault on command: by how much something is off from now on. */
    synchronized void fault(String name, double value) {
        faults.put(name, value);
    }

    private double off(String name, double usual) {
        return faults.getOrDefault(name, usual);
    }

    private String lane() {
        return truth.bands().entrySet().stream()
                .filter(b -> frequency >= b.getValue().low()
                        && frequency <= b.getValue().high())
                .map(Map.Entry::getKey)
                .findFirst()
                .orElse(truth.bands().keySet().iterator().next());
    }

    private Radios.RadioBand band() {
        return truth.bands().get(lane());
    }

    private int set(String name, int usual) {
        return settings.getOrDefault(name, usual);
    }

    // ---- what the data port does
    // -------------------------------------------------------------------------------------------

    String identity() {
        StringBuilder bands = new StringBuilder();
        truth.bands().forEach((lane, b) -> bands.append(bands.isEmpty() ? "" : ",")
                .append(lane)
                .append('=')
                .append((long) b.low())
                .append('-')
                .append((long) b.high()));
        return String.join(
                ";",
                truth.maker(),
                truth.model(),
                truth.serial(),
                truth.firmware(),
                truth.configuration(),
                bands.toString());
    }

    synchronized void channel(double hertz, boolean fsk4, double channelSpacing) {
        if (truth.bands().values().stream().noneMatch(b -> hertz >= b.low() && hertz <= b.high())) {
            throw new IllegalArgumentException("this radio has no band at " + (long) hertz + " Hz");
        }
        if (fsk4 && truth.outer() == 0) {
            throw new IllegalArgumentException("this radio has no digital mode");
        }
        frequency = hertz;
        digital = fsk4;
        spacing = channelSpacing;
    }

    /** Frequency it is tuned to, Hz. */
    synchronized double carrier() {
        return frequency;
    }

    synchronized void key(boolean on) {
        keyed = on;
    }

    synchronized boolean keyed() {
        return keyed;
    }

    synchronized void highPower(boolean high) {
        highPower = high;
    }

    synchronized void subTone(double hertz) {
        subTone = hertz;
    }

    synchronized void holdSquelch(boolean open) {
        squelchHeld = open;
    }

    synchronized int[] setting(String name) {
        Integer value = settings.get(name);
        if (value == null) {
            throw new IllegalArgumentException("this radio has no setting " + name);
        }
        return new int[] {value, 0, 255};
    }

    synchronized void setting(String name, int value) {
        int[] bounds = setting(name);
        if (value < bounds[1] || value > bounds[2]) {
            throw new IllegalArgumentException(name + " goes from " + bounds[1] + " to " + bounds[2]);
        }
        settings.put(name, value);
    }

    synchronized double battery() {
        return off("battery", 0.93);
    }

    // ---- transmitter
    // -------------------------------------------------------------------------------------------------------

    private double ppm() {
        return truth.ppm() + off("drift", 0) + (set("reference", MIDDLE) - MIDDLE) * REFERENCE_STEP;
    }

    /** Power at the antenna port, W. */
    synchronized double watts() {
        if (!keyed) {
            return 0;
        }
        Radios.RadioBand band = band();
        double place = (frequency - band.low()) / (band.high() - band.low());
        // Three settings, at the ends and in the middle, and what lies between them.
        String lane = lane();
        double low = set("power." + lane + ".low", POWER_MIDDLE);
        double mid = set("power." + lane + ".mid", POWER_MIDDLE);
        double high = set("power." + lane + ".high", POWER_MIDDLE);
        double setting = place < 0.5 ? low + (mid - low) * 2 * place : mid + (high - mid) * (2 * place - 1);
        double decibels = band.powerDecibels() + off("power." + lane, 0) - 0.2 * Math.abs(2 * place - 1);
        return band.rated() * Math.pow(setting / POWER_MIDDLE, 2) * Math.pow(10, decibels / 10) * (highPower ? 1 : 0.2);
    }

    private double greatestDeviation() {
        return spacing >= 20_000 ? 5000 : 2500;
    }

    /** Peak deviation of a sound before the limiter, Hz. */
    private double deviation(double hertz, double volts) {
        String lane = lane();
        Radios.RadioBand band = band();
        double gain = band.deviationGain()
                * off("deviation." + lane, 1)
                * (1 + (set("deviation." + lane, MIDDLE) - MIDDLE) * DEVIATION_STEP);
        double tilt = band.tiltDecibels() + (set("balance." + lane, MIDDLE) - MIDDLE) * BALANCE_STEP;
        return 0.6
                * greatestDeviation()
                * gain
                * volts
                / truth.microphone()
                * Math.pow(10, tilt / 20 * -Math.log10(hertz / Math.sqrt(300.0 * 3000)));
    }

    /**
     * Baseband as it leaves the antenna port.
     *
     * @param centre what the analyser is tuned to, Hz
     * @param soundHertz tone at the microphone
     * @param volts of it, rms; 0 for none
     * @return I and Q for 1 W at amplitude 1
     */
    synchronized double[][] transmitted(int count, double rate, double centre, double soundHertz, double volts) {
        double[] i = new double[count];
        double[] q = new double[count];
        double amplitude = Math.sqrt(watts());
        double offset = frequency - centre + ppm() * 1e-6 * frequency;
        double dev = volts > 0 ? deviation(soundHertz, volts) : 0;
        double limit = 0.92 * greatestDeviation() * band().limiter();
        double limited = dev / Math.pow(1 + Math.pow(dev / limit, 8), 0.125);
        double over = dev > limit && 3 * soundHertz <= 3000 ? 0.04 * limited : 0;
        double bent = band().imbalance() * limited;
        double noise = band().noiseHz() * off("noise." + lane(), 1);
        double hum = 0.4 * noise;
        double slow = 0;
        double pole = Math.exp(-2 * Math.PI * 2500 / rate);
        double drive = noise * Math.sqrt(1 - pole * pole);
        double[] pulses = digital ? symbols(count, rate) : new double[0];
        for (int n = 0; n < count; n++) {
            double t = n / rate;
            double hertz = offset;
            if (digital) {
                hertz += pulses[n]
                        * truth.outer()
                        / 3
                        * band().deviationGain()
                        * (1 + (set("deviation." + lane(), MIDDLE) - MIDDLE) * DEVIATION_STEP);
            } else {
                double turn = 2 * Math.PI * soundHertz * t;
                hertz += limited * Math.cos(turn) + bent * Math.cos(2 * turn) + over * Math.cos(3 * turn);
                if (subTone > 0) {
                    hertz += 0.15 * greatestDeviation() * Math.cos(2 * Math.PI * subTone * (1 + 2e-4) * t);
                }
            }
            slow = pole * slow + drive * random.nextGaussian();
            hertz += slow + hum * Math.cos(2 * Math.PI * 100 * t);
            phase += 2 * Math.PI * hertz / rate;
            i[n] = amplitude * Math.cos(phase);
            q[n] = amplitude * Math.sin(phase);
        }
        phase = Math.IEEEremainder(phase, 2 * Math.PI);
        return new double[][] {i, q};
    }

    /** Four-level symbols of the test pattern, raised cosine, with a little jitter of the levels. */
    private double[] symbols(int count, double rate) {
        double period = rate / SYMBOLS / (1 + ppm() * 1e-6);
        int symbols = (int) (count / period) + 2 * PULSE + 2;
        double[] levels = new double[symbols];
        for (int k = 0; k < symbols; k++) {
            boolean first = Pattern.bit(bit++);
            boolean second = Pattern.bit(bit++);
            levels[k] =
                    (first ? -1 : 1) * (second ? 3 : 1) + 0.05 * random.nextGaussian() * (1 + band().imbalance() * 20);
        }
        double[] out = new double[count];
        for (int n = 0; n < count; n++) {
            double at = n / period + PULSE;
            int middle = (int) Math.floor(at);
            for (int k = middle - PULSE + 1; k <= middle + PULSE; k++) {
                out[n] += levels[k] * PULSES[(int) Math.round((at - k + PULSE) * FINER)];
            }
        }
        return out;
    }

    private static double[] pulses() {
        double[] table = new double[2 * PULSE * FINER + 2];
        for (int n = 0; n < table.length; n++) {
            table[n] = raised((double) n / FINER - PULSE);
        }
        return table;
    }

    private static double raised(double t) {
        double b = 0.2;
        double sinc = t == 0 ? 1 : Math.sin(Math.PI * t) / (Math.PI * t);
        double bottom = 1 - 4 * b * b * t * t;
        return Math.abs(bottom) < 1e-9 ? Math.PI / 4 * sinc : sinc * Math.cos(Math.PI * b * t) / bottom;
    }

    // ---- receiver
    // ----------------------------------------------------------------------------------------------------------

    /** A signal at the antenna port. */
    record Arriving(double hertz, double dbm, double deviation, double tone, boolean digital) {}

    private double bandwidth() {
        return spacing >= 20_000 ? 16_000 : 11_000;
    }

    /** Signal over noise in the receiver's bandwidth, dB. */
    private double signalOverNoise(double dbm) {
        String lane = lane();
        double mistuned = Math.pow((set("frontEnd." + lane, MIDDLE) - band().frontEndBest()) / 22.0, 2);
        double figure = NOISE_FIGURE + band().deafDecibels() + off("deaf." + lane, 0) + Math.min(15, mistuned);
        return dbm - (THERMAL + 10 * Math.log10(bandwidth()) + figure);
    }

    /**
     * Sound it gives, V, from what arrives: noise and signals go through the channel filter, a limiter and a
     * discriminator.
     *
     * @param arriving wanted signal first; absent for none
     */
    synchronized double[] heard(int count, double rate, @Nullable Arriving wanted, @Nullable Arriving other) {
        FirFilter channel = FirFilter.lowPass(bandwidth() / 2, rate, 40);
        FirFilter speech = FirFilter.bandPass(280, 3100, rate, 120);
        int more = count + speech.reach() + channel.reach() + 1;
        double[] i = new double[more];
        double[] q = new double[more];
        // Noise power 1 in the channel.
        double each = Math.sqrt(0.5) / channel.noiseGain();
        for (int n = 0; n < more; n++) {
            i[n] = each * random.nextGaussian();
            q[n] = each * random.nextGaussian();
        }
        add(i, q, rate, wanted, 0);
        add(i, q, rate, other, ROOFING);
        i = channel.of(i);
        q = channel.of(q);
        double[] hertz = new double[i.length - 1];
        for (int n = 0; n < hertz.length; n++) {
            hertz[n] = Math.atan2(q[n + 1] * i[n] - i[n + 1] * q[n], i[n + 1] * i[n] + q[n + 1] * q[n])
                    * rate
                    / (2 * Math.PI);
        }
        double[] sound = speech.of(deEmphasised(hertz, rate));
        double scale = truth.soundVolts() * Math.sqrt(2) / (0.6 * greatestDeviation());
        double bent = band().soundBend() + off("sound." + lane(), 0);
        double[] out = new double[count];
        for (int n = 0; n < count; n++) {
            double v = sound[n] * scale;
            double x = v / (truth.soundVolts() * Math.sqrt(2));
            out[n] = v + bent * truth.soundVolts() * Math.sqrt(2) * (2 * x * x - 1) * (Math.abs(x) < 3 ? 1 : 0);
        }
        return out;
    }

    /** 750 us: 6 dB an octave, as loud as before at 1 kHz. */
    private static double[] deEmphasised(double[] hertz, double rate) {
        double pole = Math.exp(-1 / (rate * 750e-6));
        double turn = 2 * Math.PI * 1000 / rate;
        double gain = Math.sqrt(1 - 2 * pole * Math.cos(turn) + pole * pole);
        double[] out = new double[hertz.length];
        double last = 0;
        for (int n = 0; n < out.length; n++) {
            last = pole * last + gain * hertz[n];
            out[n] = last;
        }
        return out;
    }

    private void add(double[] i, double[] q, double rate, @Nullable Arriving signal, double roofing) {
        if (signal == null || Math.abs(signal.hertz - frequency) > rate / 2 - 5000) {
            return;
        }
        double amplitude = Math.pow(10, (signalOverNoise(signal.dbm) - roofing) / 20);
        double offset = signal.hertz - frequency * (1 + ppm() * 1e-6);
        double start = random.nextDouble() * 2 * Math.PI;
        double turns = start;
        for (int n = 0; n < i.length; n++) {
            turns += 2
                    * Math.PI
                    * (offset
                            + (signal.digital
                                    ? 0
                                    : signal.deviation * Math.cos(2 * Math.PI * signal.tone * n / rate + start)))
                    / rate;
            i[n] += amplitude * Math.cos(turns);
            q[n] += amplitude * Math.sin(turns);
        }
    }

    synchronized boolean squelchIsOpen(@Nullable Arriving wanted) {
        if (squelchHeld) {
            return true;
        }
        double over = wanted == null || Math.abs(wanted.hertz - frequency) > spacing / 2
                ? -40
                : signalOverNoise(wanted.dbm) + 0.15 * random.nextGaussian();
        squelchOpen = squelchOpen ? over > 2.5 : over > 5.5;
        return squelchOpen;
    }

    /** Bits it decides on: the test pattern with as many errors as its signal over noise makes. */
    synchronized String bits(int count, @Nullable Arriving wanted) {
        boolean there = wanted != null && wanted.digital && digital && Math.abs(wanted.hertz - frequency) < spacing / 2;
        double ratio = there ? 0.5 * Math.exp(-0.42 * Math.pow(10, signalOverNoise(wanted.dbm) / 10)) + 2e-5 : 0.5;
        StringBuilder bits = new StringBuilder(count);
        int from = random.nextInt(511);
        for (int n = 0; n < count; n++) {
            bits.append(Pattern.bit(from + n) ^ random.nextDouble() < ratio ? '1' : '0');
        }
        return bits.toString();
    }

    /** Current from the supply, A. */
    synchronized double current(@Nullable Arriving wanted) {
        double volts = truth.supplyVolts();
        double noise = 1 + 0.004 * random.nextGaussian();
        if (keyed) {
            return noise * (0.25 + watts() / (0.48 * volts));
        }
        return noise * (squelchIsOpen(wanted) ? truth.idleAmperes() * 3.2 : truth.idleAmperes());
    }
}
