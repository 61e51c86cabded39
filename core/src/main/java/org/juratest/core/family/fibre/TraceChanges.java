package org.juratest.core.family.fibre;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** What is different on a trace since an earlier one of the same fibre and wavelength. */
public final class TraceChanges {

    /** The least change of a loss that is told, dB. */
    public static final double LOSS = 0.05;
    /** The least change of a reflectance that is told, dB. */
    public static final double REFLECTANCE = 3;

    private TraceChanges() {}

    /** What has happened to an event. */
    public enum What {
        APPEARED,
        VANISHED,
        CHANGED
    }

    /**
     * A difference.
     *
     * @param position m
     * @param before absent for one that appeared
     * @param now absent for one that vanished
     */
    public record Change(double position, What what, @Nullable OtdrEvent before, @Nullable OtdrEvent now) {}

    /** Differences by position. Losses are compared with their own scatter, and no finer than {@link #LOSS}. */
    public static List<Change> between(OtdrAnalysis before, OtdrAnalysis now) {
        List<Change> changes = new ArrayList<>();
        List<OtdrEvent> left = new ArrayList<>(now.events());
        double pulse = Math.max(
                Math.max(before.trace().pulseLength(), now.trace().pulseLength()),
                3 * Math.max(before.trace().spacing(), now.trace().spacing()));
        for (OtdrEvent was : before.events()) {
            OtdrEvent is = left.stream()
                    .filter(e -> Math.abs(e.position() - was.position()) <= pulse + 1e-3 * was.position())
                    .min(Comparator.comparingDouble(e -> Math.abs(e.position() - was.position())))
                    .orElse(null);
            if (is == null) {
                changes.add(new Change(was.position(), What.VANISHED, was, null));
            } else {
                left.remove(is);
                if (isOther(was, is)) {
                    changes.add(new Change(is.position(), What.CHANGED, was, is));
                }
            }
        }
        left.forEach(e -> changes.add(new Change(e.position(), What.APPEARED, null, e)));
        changes.sort(Comparator.comparingDouble(Change::position));
        return changes;
    }

    private static boolean isOther(OtdrEvent was, OtdrEvent is) {
        if ((was.type() == OtdrEvent.Type.END) != (is.type() == OtdrEvent.Type.END)) {
            return true;
        }
        double sigma = Math.hypot(was.lossSigma(), is.lossSigma());
        boolean loss =
                was.loss() != null && is.loss() != null && Math.abs(is.loss() - was.loss()) > Math.max(LOSS, 3 * sigma);
        boolean reflects = was.reflectance() == null
                ? is.reflectance() != null
                : is.reflectance() == null || Math.abs(is.reflectance() - was.reflectance()) > REFLECTANCE;
        return loss || reflects && !(was.atLeast() || is.atLeast());
    }
}
