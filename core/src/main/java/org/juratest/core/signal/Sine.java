package org.juratest.core.signal;

/**
 * A sine {@code a cos(2 pi f t) + b sin(2 pi f t) + offset}, t in s from the first sample.
 *
 * @param frequency Hz
 * @param a         amplitude of the cosine
 * @param b         amplitude of the sine
 * @param offset    what it stands on
 */
record Sine(double frequency, double a, double b, double offset) {

  /** Steps after which the recurrence for the sine is begun anew, so that its rounding does not add up. */
  private static final int RENEWED = 512;
  private static final int MOST_STEPS = 12;
  /** Of a cycle over the whole record: far below what noise lets anybody see. */
  private static final double SETTLED = 1e-8;

  double amplitude() {
    return Math.hypot(a, b);
  }

  double power() {
    return (a * a + b * b) / 2;
  }

  /** Takes the wave, without its offset, off samples of which the first stands at {@code start} s. */
  void takeFrom(double[] samples, double rate, double start) {
    each(samples.length, rate, start, (n, cos, sin) -> samples[n] -= a * cos + b * sin);
  }

  /** Adds the wave, without its offset. */
  void addTo(double[] samples, double rate, double start) {
    each(samples.length, rate, start, (n, cos, sin) -> samples[n] += a * cos + b * sin);
  }

  private interface Visit {
    void at(int n, double cos, double sin);
  }

  private void each(int count, double rate, double start, Visit visit) {
    double turn = 2 * Math.PI * frequency / rate;
    double stepCos = Math.cos(turn);
    double stepSin = Math.sin(turn);
    double cos = 0;
    double sin = 0;
    for (int n = 0; n < count; n++) {
      if (n % RENEWED == 0) {
        double phase = turn * n + 2 * Math.PI * frequency * start;
        cos = Math.cos(phase);
        sin = Math.sin(phase);
      }
      visit.at(n, cos, sin);
      double next = cos * stepCos - sin * stepSin;
      sin = sin * stepCos + cos * stepSin;
      cos = next;
    }
  }

  /**
   * Least-squares fit with unknown frequency, from a first guess (IEEE Std 1057-2017, 4.6.2, four-parameter fit): the frequency is
   * improved by the derivative in time until it no longer moves.
   *
   * @param guess Hz, within half a cycle over the record of the truth
   */
  static Sine fit(double[] samples, double rate, double guess) {
    double seconds = samples.length / rate;
    double f = guess;
    double[] x = {0, 0, 0};
    for (int step = 0; step < MOST_STEPS; step++) {
      Sums sums = Sums.of(samples, rate, f);
      x = sums.threeParameters();
      double change = Math.max(-0.5 / seconds, Math.min(0.5 / seconds, sums.frequencyChange(x[0], x[1])));
      if (Math.abs(change) * seconds < SETTLED) {
        break;
      }
      f = Math.max(0.1 / seconds, f + change);
    }
    // The time of the fit counts from the middle; its cosine and sine are turned to the first sample.
    double turned = -2 * Math.PI * f * (samples.length - 1) / 2 / rate;
    double cos = Math.cos(turned);
    double sin = Math.sin(turned);
    return new Sine(f, x[0] * cos + x[1] * sin, x[1] * cos - x[0] * sin, x[2]);
  }

  /** Sums over a record of products of cosine, sine, time (s, from the middle) and samples; the letters are those factors. */
  private static final class Sums {

    private double n;
    private double c;
    private double s;
    private double cs;
    private double ss;
    private double tt;
    private double tc;
    private double ts;
    private double tcs;
    private double tss;
    private double ttcs;
    private double ttss;
    private double y;
    private double yc;
    private double ys;
    private double tyc;
    private double tys;

    static Sums of(double[] samples, double rate, double f) {
      Sums sums = new Sums();
      double middle = (samples.length - 1) / 2.0;
      sums.n = samples.length;
      new Sine(f, 1, 0, 0).each(samples.length, rate, -middle / rate, (k, cos, sin) -> sums.add((k - middle) / rate, cos, sin, samples[k]));
      return sums;
    }

    private void add(double t, double cos, double sin, double value) {
      double sinSin = sin * sin;
      double cosSin = cos * sin;
      double tValue = t * value;
      double square = t * t;
      c += cos;
      s += sin;
      cs += cosSin;
      ss += sinSin;
      tt += square;
      tc += t * cos;
      ts += t * sin;
      tcs += t * cosSin;
      tss += t * sinSin;
      ttcs += square * cosSin;
      ttss += square * sinSin;
      y += value;
      yc += value * cos;
      ys += value * sin;
      tyc += tValue * cos;
      tys += tValue * sin;
    }

    /** Cosine, sine and offset at the frequency as it is. */
    double[] threeParameters() {
      return solve(new double[][] {{n - ss, cs, c, yc}, {cs, ss, s, ys}, {c, s, n, y}});
    }

    /** Change of frequency, Hz, that goes best with these amplitudes; the sum of t is 0, so that of t cos cos is that of -t sin sin. */
    double frequencyChange(double a, double b) {
      // The fourth base is t (b cos - a sin), the derivative by 2 pi f.
      double byCos = -b * tss - a * tcs;
      double bySin = b * tcs - a * tss;
      double byOne = b * tc - a * ts;
      double own = b * b * (tt - ttss) - 2 * a * b * ttcs + a * a * ttss;
      double[] x = solve(new double[][] {{n - ss, cs, c, byCos, yc}, {cs, ss, s, bySin, ys}, {c, s, n, byOne, y},
          {byCos, bySin, byOne, own, b * tyc - a * tys}});
      return x[3] / (2 * Math.PI);
    }
  }

  /** Gauss elimination with pivoting; zeros where the equations do not determine anything. */
  private static double[] solve(double[][] rows) {
    int n = rows.length;
    for (int col = 0; col < n; col++) {
      int pivot = col;
      for (int r = col + 1; r < n; r++) {
        pivot = Math.abs(rows[r][col]) > Math.abs(rows[pivot][col]) ? r : pivot;
      }
      double[] swap = rows[col];
      rows[col] = rows[pivot];
      rows[pivot] = swap;
      if (rows[col][col] == 0) {
        return new double[n];
      }
      for (int r = col + 1; r < n; r++) {
        double factor = rows[r][col] / rows[col][col];
        for (int c = col; c <= n; c++) {
          rows[r][c] -= factor * rows[col][c];
        }
      }
    }
    double[] x = new double[n];
    for (int r = n - 1; r >= 0; r--) {
      double rest = rows[r][n];
      for (int c = r + 1; c < n; c++) {
        rest -= rows[r][c] * x[c];
      }
      x[r] = rest / rows[r][r];
    }
    return x;
  }
}
