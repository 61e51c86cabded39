package org.juratest.core.procedure;

import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.OptionalDouble;
import java.util.TreeMap;
import org.juratest.core.curve.TimeCurrentBand;
import org.juratest.core.formula.Formula;
import org.juratest.core.formula.FormulaException;
import org.juratest.core.limit.InputRef;
import org.jspecify.annotations.Nullable;

/**
 * Fits a procedure to one device: lane sets shrink to the lanes it has, formulas of parameters become values. A formula
 * whose inputs are missing leaves the parameter without a value and with the reason; what needs it then refuses.
 */
public final class ProcedureResolver {

  private final Nameplate nameplate;
  private final @Nullable TimeCurrentBand band;

  private ProcedureResolver(Nameplate nameplate, @Nullable TimeCurrentBand band) {
    this.nameplate = nameplate;
    this.band = band;
  }

  /** The procedure for a device of this nameplate and band. */
  public static Procedure resolve(Procedure procedure, Nameplate nameplate, @Nullable TimeCurrentBand band) {
    ProcedureResolver resolver = new ProcedureResolver(nameplate, band);
    Map<String, LaneSet> lanes = new LinkedHashMap<>();
    procedure.laneSets().forEach((name, set) -> lanes.put(name, resolver.lanes(set)));
    return procedure.withResolved(lanes, procedure.steps().stream().map(resolver::step).toList());
  }

  private LaneSet lanes(LaneSet set) {
    if (set.from() == null) {
      return set;
    }
    // Without the rating nobody knows how many there are; leaving lanes out would hide them, so all stay.
    double count = nameplate.base(set.from()).orElse(Double.POSITIVE_INFINITY);
    List<Lane> present = set.lanes().stream().filter(l -> l.from() == null || l.from() <= count).toList();
    return new LaneSet(set.label(), set.from(), present);
  }

  private Step step(Step step) {
    Map<String, Param> params = new TreeMap<>();
    // In order of need: a formula may use another parameter of the step, so literal ones come first.
    step.params().forEach((name, p) -> {
      if (p.formula() == null) {
        params.put(name, p);
      }
    });
    step.params().forEach((name, p) -> params.computeIfAbsent(name, n -> value(p, params)));
    Map<String, Param> maxima = new TreeMap<>();
    step.maxima().forEach((name, p) -> maxima.put(name, p.formula() == null ? p : value(p, params)));
    return step.resolved(params, maxima);
  }

  private Param value(Param param, Map<String, Param> params) {
    Map<String, Double> values = new HashMap<>();
    for (Map.Entry<String, String> input : param.inputs().entrySet()) {
      InputRef ref = InputRef.parse(input.getValue());
      OptionalDouble value = input(ref, params);
      if (value.isEmpty()) {
        String why = ref.from() == InputRef.From.NAMEPLATE ? "the nameplate has no " + ref.name() : "there is no " + ref;
        return new Param(null, param.formula(), param.inputs(), param.unit(), why);
      }
      values.put(input.getKey(), value.getAsDouble());
    }
    try {
      double value = Formula.parse(String.valueOf(param.formula())).evaluate(values);
      return new Param(value, param.formula(), param.inputs(), param.unit(), null);
    } catch (FormulaException e) {
      return new Param(null, param.formula(), param.inputs(), param.unit(), e.getMessage());
    }
  }

  private OptionalDouble input(InputRef ref, Map<String, Param> params) {
    return switch (ref.from()) {
      case NAMEPLATE -> nameplate.base(ref.name());
      case PARAM -> number(params.get(ref.name()));
      case CURVE -> window(ref, params);
      case READING -> OptionalDouble.empty();
    };
  }

  private OptionalDouble window(InputRef ref, Map<String, Param> params) {
    OptionalDouble current = number(params.get("current"));
    return band == null || current.isEmpty() ? OptionalDouble.empty() : band.time(ref.name(), current.getAsDouble());
  }

  private static OptionalDouble number(@Nullable Param param) {
    return param == null || param.value() == null ? OptionalDouble.empty() : OptionalDouble.of(param.value());
  }
}
