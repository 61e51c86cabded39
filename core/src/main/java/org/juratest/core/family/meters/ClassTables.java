package org.juratest.core.family.meters;

import java.util.List;
import java.util.Map;
import org.juratest.core.limit.LimitTable;
import org.juratest.core.standard.StandardTable;

/**
 * What classes of meters and of voltage transformers allow, by edition of their standards (IEC 62053-22, tables of
 * limits of error for 0.2 S and 0.5 S; IEC 62053-21 for 1 and 2; IEC 61869-3 for transformers), as tables that people
 * may change or put others beside. What a class allows with one phase loaded is of the standard for 0.2 S and 0.5 S and
 * of the house for 1 and 2; what it allows under a customer's load is its limit at low current.
 */
final class ClassTables {

    /** Of tables that tell the error of active energy, %. */
    static final String METER = "energyMeter";
    /** Of tables that tell ratio error, %, and phase displacement, minutes. */
    static final String VOLTAGE_TRANSFORMER = "voltageTransformer";

    private static final String CLASS = "class";
    private static final List<String> LOADS =
            List.of(CLASS, "load", "times In" + LimitTable.BELOW, LimitTable.LOWEST, LimitTable.HIGHEST);
    private static final List<String> QUANTITIES = List.of(CLASS, "quantity", LimitTable.LOWEST, LimitTable.HIGHEST);

    private ClassTables() {}

    private static List<String> row(String accuracy, String load, String below, String allowed) {
        return List.of(accuracy, load, below, "-" + allowed, allowed);
    }

    private static List<String> row(String accuracy, String quantity, String allowed) {
        return List.of(accuracy, quantity, "-" + allowed, allowed);
    }

    private static final StandardTable STATIC_S = new StandardTable(
            METER,
            "iec-62053-22-2020",
            "active energy, 0.2 S and 0.5 S, %",
            "IEC 62053-22:2020",
            Map.of("accuracyClass", "S"),
            LOADS,
            List.of(
                    row("0.2 S", "power factor 1", "0.05", "0.4"),
                    row("0.2 S", "power factor 1", "", "0.2"),
                    row("0.2 S", "0.5 inductive", "0.1", "0.5"),
                    row("0.2 S", "0.5 inductive", "", "0.3"),
                    row("0.2 S", "0.8 capacitive", "0.1", "0.5"),
                    row("0.2 S", "0.8 capacitive", "", "0.3"),
                    row("0.2 S", "one phase", "", "0.3"),
                    row("0.2 S", "customer's", "", "0.4"),
                    row("0.5 S", "power factor 1", "0.05", "1"),
                    row("0.5 S", "power factor 1", "", "0.5"),
                    row("0.5 S", "0.5 inductive", "0.1", "1"),
                    row("0.5 S", "0.5 inductive", "", "0.6"),
                    row("0.5 S", "0.8 capacitive", "0.1", "1"),
                    row("0.5 S", "0.8 capacitive", "", "0.6"),
                    row("0.5 S", "one phase", "", "0.6"),
                    row("0.5 S", "customer's", "", "1")));

    private static final StandardTable STATIC = new StandardTable(
            METER,
            "iec-62053-21-2020",
            "active energy, 1 and 2, %",
            "IEC 62053-21:2020",
            Map.of(),
            LOADS,
            List.of(
                    row("1", "power factor 1", "0.1", "1.5"),
                    row("1", "power factor 1", "", "1"),
                    row("1", "0.5 inductive", "0.2", "1.5"),
                    row("1", "0.5 inductive", "", "1"),
                    row("1", "0.8 capacitive", "0.2", "1.5"),
                    row("1", "0.8 capacitive", "", "1"),
                    row("1", "one phase", "", "2"),
                    row("1", "customer's", "", "1.5"),
                    row("2", "power factor 1", "0.1", "2.5"),
                    row("2", "power factor 1", "", "2"),
                    row("2", "0.5 inductive", "0.2", "2.5"),
                    row("2", "0.5 inductive", "", "2"),
                    row("2", "0.8 capacitive", "0.2", "2.5"),
                    row("2", "0.8 capacitive", "", "2"),
                    row("2", "one phase", "", "3"),
                    row("2", "customer's", "", "2.5")));

    private static final StandardTable VOLTAGE = new StandardTable(
            VOLTAGE_TRANSFORMER,
            "iec-61869-3-2011",
            "ratio and phase",
            "IEC 61869-3:2011",
            Map.of(),
            QUANTITIES,
            List.of(
                    row("0.2", "ratio, %", "0.2"),
                    row("0.2", "phase, minutes", "10"),
                    row("0.5", "ratio, %", "0.5"),
                    row("0.5", "phase, minutes", "20"),
                    row("1", "ratio, %", "1"),
                    row("1", "phase, minutes", "40"),
                    row("3P", "ratio, %", "3"),
                    row("3P", "phase, minutes", "120")));

    /** Those that ship. */
    static List<StandardTable> shipped() {
        return List.of(STATIC_S, STATIC, VOLTAGE);
    }

    /**
     * Looks whether limits can be read from a table.
     *
     * @throws StandardTable.FaultException naming the cell at fault
     */
    static void check(StandardTable table) {
        LimitTable limits = LimitTable.of(table);
        List<String> keys = table.group().equals(METER) ? LOADS : QUANTITIES;
        if (!limits.keys().equals(keys.subList(0, keys.size() - 2))) {
            throw new StandardTable.FaultException(
                    "columns", "The columns are " + String.join(", ", keys) + ", in this order.");
        }
    }
}
