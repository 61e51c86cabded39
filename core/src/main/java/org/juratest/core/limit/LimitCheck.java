package org.juratest.core.limit;

import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.juratest.core.quantity.Plausible;
import org.juratest.core.quantity.Unit;

/**
 * Whether a limit, as it is stated, can be one: figures that can be, sides the right way round, the ideal between them.
 * What only readings, ratings or formulas can tell is found when it is resolved ({@link LimitResolver}).
 */
public final class LimitCheck {

    private static final int LONGEST_SOURCE = 300;
    /** A tolerance or a spread beyond this, in percent, limits nothing. */
    private static final double MOST_PERCENT = 1e6;

    private static final double MOST_DB = 200;

    private final @Nullable Unit unit;
    private final List<Fault> faults = new ArrayList<>();

    /**
     * What cannot be so.
     *
     * @param field of the limit, such as {@code high} or {@code rows[2].low}
     */
    public record Fault(String field, String what) {}

    private LimitCheck(@Nullable Unit unit) {
        this.unit = unit;
    }

    /**
     * All that is wrong; empty if nothing is.
     *
     * @param unit of the point; absent where it has none
     */
    public static List<Fault> of(LimitSpec limit, @Nullable Unit unit) {
        LimitCheck check = new LimitCheck(unit);
        check.kind(limit.kind());
        check.zone(limit);
        if (limit.source().length() > LONGEST_SOURCE) {
            check.fault(
                    "source",
                    "has at most " + LONGEST_SOURCE + " characters, not "
                            + limit.source().length());
        }
        return List.copyOf(check.faults);
    }

    private void fault(String field, String what) {
        faults.add(new Fault(field, what));
    }

    private void kind(LimitKind kind) {
        if (kind instanceof LimitKind.Fixed fixed) {
            sides("", fixed.low(), fixed.high(), fixed.ideal());
        } else if (kind instanceof LimitKind.AtMost most) {
            sides("", null, most.high(), most.ideal());
        } else if (kind instanceof LimitKind.AtLeast least) {
            sides("", least.low(), null, least.ideal());
        } else if (kind instanceof LimitKind.Nominal nominal) {
            figure("nominal", nominal.nominal());
            tolerance("minus", nominal.minus(), nominal.in());
            tolerance("plus", nominal.plus(), nominal.in());
        } else if (kind instanceof LimitKind.Table table) {
            rows(table);
        } else if (kind instanceof LimitKind.Standard standard) {
            standard(standard);
        } else if (kind instanceof LimitKind.Along along) {
            places(along);
        } else if (kind instanceof LimitKind.Spread spread) {
            if (spread.abovePercent() == null && spread.belowPercent() == null) {
                fault("abovePercent", "a spread needs how far above, how far below, or both");
            }
            percent("abovePercent", spread.abovePercent());
            percent("belowPercent", spread.belowPercent());
        } else if (kind instanceof LimitKind.Change change) {
            change(change);
        }
    }

    private void sides(String before, @Nullable Double low, @Nullable Double high, @Nullable Double ideal) {
        figure(before + "low", low);
        figure(before + "high", high);
        figure(before + "ideal", ideal);
        if (low == null && high == null) {
            fault(before + "high", "a limit needs a lowest value, a highest, or both");
        }
        order(before, low, high);
        if (ideal != null && (low != null && ideal < low || high != null && ideal > high)) {
            fault(before + "ideal", "the ideal " + ideal + " is outside the limit");
        }
    }

    private void order(String before, @Nullable Double low, @Nullable Double high) {
        if (low != null && high != null && low > high) {
            fault(before + "high", "the highest allowed value " + high + " is below the lowest, " + low);
        }
    }

    private void figure(String field, @Nullable Double value) {
        if (value != null && !Plausible.is(value, unit == null ? Unit.ONE : unit)) {
            fault(field, Plausible.words(value, unit == null ? Unit.ONE : unit));
        }
    }

    private void tolerance(String field, double value, LimitKind.ToleranceIn in) {
        boolean possible =
                switch (in) {
                    case UNIT -> Plausible.difference(value, unit == null ? Unit.ONE : unit);
                    case PERCENT -> value <= MOST_PERCENT;
                    case PPM -> value <= MOST_PERCENT * 1e4;
                    case DB -> value <= MOST_DB;
                };
        if (!(value >= 0) || !possible) {
            fault(
                    field,
                    value < 0 ? "a tolerance is given as a positive figure, not " + value : "no tolerance is " + value);
        }
    }

    private void rows(LimitKind.Table table) {
        List<LimitKind.Row> rows = table.rows();
        if (rows.isEmpty()) {
            fault("rows", "a table needs rows");
        }
        for (int i = 0; i < rows.size(); i++) {
            LimitKind.Row row = rows.get(i);
            String at = "rows[" + i + "].";
            key(at, "upTo", row.upTo(), "is", row.is());
            if (table.by() != null) {
                key(at, "byUpTo", row.byUpTo(), "byIs", row.byIs());
            } else if (row.byUpTo() != null || row.byIs() != null) {
                fault(at + (row.byIs() == null ? "byUpTo" : "byIs"), "the table names no second key");
            }
            Double before = i == 0 ? null : rows.get(i - 1).upTo();
            if (table.by() == null && before != null && row.upTo() != null && !(row.upTo() > before)) {
                fault(
                        at + "upTo",
                        row.upTo() + " is not above the row before, " + before + ": this row would never be used");
            }
            sides(at, row.low(), row.high(), row.ideal());
        }
    }

    private void key(String at, String numberField, @Nullable Double upTo, String wordField, @Nullable String is) {
        if (upTo == null && is == null) {
            fault(at + numberField, "a row needs a number or a word as its key");
        } else if (upTo != null && is != null) {
            fault(at + wordField, "a key is a number or a word, not both");
        } else if (upTo != null && !(Math.abs(upTo) <= Double.MAX_VALUE)) {
            fault(at + numberField, "it is a number, not " + upTo);
        }
    }

    private void standard(LimitKind.Standard standard) {
        if (standard.group().isBlank()) {
            fault("group", "which group of tables it is from");
        }
        if (standard.where().isEmpty()) {
            fault("where", "what tells which row is meant, by the heading of its column");
        }
        standard.where().forEach((heading, of) -> {
            if (of.isBlank()) {
                fault("where." + heading, "a named input, or a word");
            } else if (of.startsWith("with:")) {
                fault("where." + heading, "a table is read once, and not with each reading");
            } else if (LimitTable.isNumber(heading) && !InputRef.looksLike(of)) {
                fault("where." + heading, "a number comes from a named input, not \"" + of + "\"");
            }
        });
    }

    private void places(LimitKind.Along along) {
        List<LimitKind.Place> places = along.places();
        if (places.size() < 2) {
            fault("places", "a limit along another value needs at least two places");
        }
        for (int i = 0; i < places.size(); i++) {
            LimitKind.Place place = places.get(i);
            String at = "places[" + i + "].";
            if (!(Math.abs(place.at()) <= Double.MAX_VALUE)) {
                fault(at + "at", "it is a number, not " + place.at());
            } else if (i > 0 && !(place.at() > places.get(i - 1).at())) {
                fault(
                        at + "at",
                        place.at() + " is not above the place before, "
                                + places.get(i - 1).at());
            }
            boolean positive = place.at() > 0 && above(place.low()) && above(place.high()) && above(place.ideal());
            if (along.between() == LimitKind.Between.LOG && !positive) {
                fault(at + "at", "on logarithmic axes all values are above 0");
            }
            sides(at, place.low(), place.high(), place.ideal());
        }
    }

    private static boolean above(@Nullable Double value) {
        return value == null || value > 0;
    }

    private void percent(String field, @Nullable Double value) {
        if (value != null && !(value >= 0 && value <= MOST_PERCENT)) {
            fault(field, "a spread is 0 % or more, not " + value);
        }
    }

    private void change(LimitKind.Change change) {
        for (String side : List.of("low", "high")) {
            Double value = side.equals("low") ? change.low() : change.high();
            boolean possible = value == null
                    || (change.in() == LimitKind.ChangeIn.PERCENT
                            ? Math.abs(value) <= MOST_PERCENT
                            : Plausible.difference(value, unit == null ? Unit.ONE : unit));
            if (!possible) {
                fault(side, "no change is " + value);
            }
        }
        if (change.low() == null && change.high() == null) {
            fault("high", "a change needs a least, a greatest, or both");
        }
        order("", change.low(), change.high());
    }

    private void zone(LimitSpec limit) {
        figure("marginalLow", limit.marginalLow());
        figure("marginalHigh", limit.marginalHigh());
        Double low = limit.marginalLow();
        Double high = limit.marginalHigh();
        if (low != null && high != null && low > high) {
            fault("marginalHigh", "the marginal zones " + low + " and " + high + " leave nothing between them");
        }
        if (limit.kind() instanceof LimitKind.Fixed fixed) {
            inside("marginalLow", low, fixed.low(), fixed.high());
            inside("marginalHigh", high, fixed.low(), fixed.high());
        } else if (limit.kind() instanceof LimitKind.AtMost most) {
            inside("marginalHigh", high, null, most.high());
        } else if (limit.kind() instanceof LimitKind.AtLeast least) {
            inside("marginalLow", low, least.low(), null);
        }
    }

    private void inside(String field, @Nullable Double value, @Nullable Double low, @Nullable Double high) {
        if (value != null && (low != null && value < low || high != null && value > high)) {
            fault(field, "where the marginal zone begins, " + value + ", is outside the limit");
        }
    }
}
