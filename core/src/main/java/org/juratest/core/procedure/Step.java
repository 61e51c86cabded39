package org.juratest.core.procedure;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/**
 * One step of a procedure.
 *
 * @param method      name of the measuring method; only with measurement, search and capture
 * @param lanes       name of the lane set it repeats over; absent: once
 * @param maxima      greatest values the client can never exceed
 * @param gear        id of the gear need it uses
 * @param hazard      whether it can energise something
 * @param sketch      name of the connection sketch
 * @param minutes     usual duration
 * @param notAfterFailIn step whose failed points forbid this one on lanes they touch
 * @param coolMinutes pause after an injection before the next, minutes
 * @param repeats     how repeats without an adjustment count together
 */
public record Step(String id, StepKind kind, String title, String text, @Nullable String method, @Nullable String lanes,
    Map<String, Param> params, Map<String, Param> maxima, @Nullable String gear, boolean hazard, @Nullable Hold hold,
    @Nullable String sketch, double minutes, boolean required, @Nullable String notAfterFailIn,
    @Nullable Double coolMinutes, Repeats repeats, List<TestPoint> points) {

  /** How repeats count together. */
  public enum Repeats { WORST, MEAN }

  public Step {
    params = Map.copyOf(params);
    maxima = Map.copyOf(maxima);
    points = List.copyOf(points);
  }

  public Optional<TestPoint> point(String pointId) {
    return points.stream().filter(p -> p.id().equals(pointId)).findFirst();
  }

  public List<Confirmation> confirmations() {
    return hold == null ? List.of() : hold.confirmations();
  }

  /** The step with its parameters resolved. */
  Step resolved(Map<String, Param> resolvedParams, Map<String, Param> resolvedMaxima) {
    return new Step(id, kind, title, text, method, lanes, resolvedParams, resolvedMaxima, gear, hazard, hold, sketch,
        minutes, required, notAfterFailIn, coolMinutes, repeats, points);
  }
}
