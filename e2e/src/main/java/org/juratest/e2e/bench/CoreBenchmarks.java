package org.juratest.e2e.bench;

import java.util.List;
import java.util.SplittableRandom;
import java.util.concurrent.TimeUnit;
import org.jtransforms.fft.DoubleFFT_1D;
import org.juratest.core.curve.TimeCurrentBand;
import org.juratest.core.curve.TimeWindow;
import org.juratest.core.run.Event;
import org.juratest.core.run.RunJudgement;
import org.juratest.core.run.RunState;
import org.juratest.core.signal.ToneAnalysis;
import org.juratest.formats.run.EventCodec;
import org.openjdk.jmh.annotations.Benchmark;
import org.openjdk.jmh.annotations.BenchmarkMode;
import org.openjdk.jmh.annotations.Mode;
import org.openjdk.jmh.annotations.OutputTimeUnit;
import org.openjdk.jmh.annotations.Scope;
import org.openjdk.jmh.annotations.State;

/**
 * Speed of the centre, one core: the fold of a whole run, its judgement, reading its bytes, one look-up in a band,
 * SINAD of a second of sound.
 */
@State(Scope.Benchmark)
@BenchmarkMode(Mode.AverageTime)
@OutputTimeUnit(TimeUnit.MICROSECONDS)
public class CoreBenchmarks {

    private static final int RATE = 48_000;

    private final SampleRun sample = new SampleRun();
    private final List<Event> events = sample.events();
    private final List<byte[]> bodies = events.stream().map(EventCodec::write).toList();
    private final RunState state = RunState.of(events);
    private final TimeCurrentBand band = sample.band();
    private final double[] sound = sound();
    private final DoubleFFT_1D transform = new DoubleFFT_1D(RATE);

    /** Oracle for the ratio: the least any fold must do, walking the list and touching each event's type. */
    @Benchmark
    public int walk() {
        int types = 0;
        for (Event event : events) {
            types += event.data().type().length();
        }
        return types;
    }

    @Benchmark
    public RunState fold() {
        return RunState.of(events);
    }

    @Benchmark
    public RunJudgement judge() {
        return RunJudgement.of(state);
    }

    @Benchmark
    public long readBytes() {
        return bodies.stream().map(EventCodec::read).mapToLong(Event::n).sum();
    }

    @Benchmark
    public TimeWindow curve() {
        return band.at(300.4);
    }

    @Benchmark
    public double bareLogarithms() {
        return Math.exp(Math.log(300.4) * 0.3);
    }

    /** SINAD of a second of sound: a tone, its harmonics, noise. */
    @Benchmark
    public double sinad() {
        return ToneAnalysis.of(sound, RATE).sinad().orElseThrow();
    }

    /** Oracle for the ratio: the transform of as many samples alone. */
    @Benchmark
    public double bareTransform() {
        double[] data = sound.clone();
        transform.realForward(data);
        return data[2];
    }

    private static double[] sound() {
        SplittableRandom random = new SplittableRandom(7);
        double[] samples = new double[RATE];
        for (int n = 0; n < RATE; n++) {
            double turn = 2 * Math.PI * 1003.7 * n / RATE;
            samples[n] = Math.sin(turn) + 0.02 * Math.sin(2 * turn) + 0.01 * random.nextGaussian();
        }
        return samples;
    }

    int eventCount() {
        return events.size();
    }
}
