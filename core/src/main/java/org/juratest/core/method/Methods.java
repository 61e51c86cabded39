package org.juratest.core.method;

import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.ServiceLoader;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.Supplier;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.juratest.core.limit.LimitKind;
import org.juratest.core.procedure.Procedure;
import org.juratest.core.procedure.Step;
import org.juratest.core.record.Chart;
import org.juratest.core.run.RunJudgement;
import org.juratest.core.run.RunState;
import org.juratest.core.standard.StandardTable;

/** The measuring methods there are, whichever families bring them. */
public final class Methods {

    private static final Map<String, Method> ALL = found();

    private Methods() {}

    private static final List<LeadCharacterisation> LEADS =
            families().flatMap(f -> f.get().leads().stream()).toList();

    private static Stream<ServiceLoader.Provider<MethodFamily>> families() {
        return ServiceLoader.load(MethodFamily.class, Methods.class.getClassLoader()).stream();
    }

    /** The way to characterise a lead with gear of one of some roles; empty if there is none. */
    public static Optional<LeadCharacterisation> lead(Collection<String> roles) {
        return LEADS.stream().filter(l -> roles.contains(l.role())).findFirst();
    }

    /** What the families draw of a run whose methods it was made with. */
    public static List<Chart> charts(RunState run, RunJudgement judgement) {
        Set<String> used = run.procedure().steps().stream()
                .map(Step::method)
                .filter(Objects::nonNull)
                .collect(Collectors.toSet());
        return families()
                .map(ServiceLoader.Provider::get)
                .filter(f -> f.methods().stream().anyMatch(m -> used.contains(m.name())))
                .flatMap(f -> f.charts(run, judgement).stream())
                .toList();
    }

    /** The tables of standards that come with the methods. */
    public static List<StandardTable> tables() {
        return families().flatMap(f -> f.get().tables().stream()).toList();
    }

    /**
     * Looks whether methods could judge by a table.
     *
     * @throws StandardTable.FaultException naming what is at fault
     */
    public static void check(StandardTable table) {
        families()
                .map(ServiceLoader.Provider::get)
                .filter(f -> f.tables().stream().anyMatch(t -> t.group().equals(table.group())))
                .findFirst()
                .orElseThrow(() -> new StandardTable.FaultException(
                        "group", "Nothing judges by tables of \"" + table.group() + "\"."))
                .check(table);
    }

    /**
     * Of some tables those that a procedure's methods and limits judge a device by, by group.
     *
     * @param tables asked for only if any method judges by one
     * @param plate texts of the nameplate
     */
    public static Map<String, StandardTable> tablesFor(
            Supplier<List<StandardTable>> tables, Procedure procedure, Map<String, String> plate) {
        Stream<String> byMethods = procedure.steps().stream()
                .map(Step::method)
                .filter(Objects::nonNull)
                .flatMap(m -> byName(m).stream())
                .flatMap(m -> m.spec().tables().stream());
        Stream<String> byLimits = procedure.steps().stream()
                .flatMap(Step::everyPoint)
                .map(p -> p.limit() == null ? null : p.limit().kind())
                .filter(LimitKind.Standard.class::isInstance)
                .map(k -> ((LimitKind.Standard) k).group());
        Set<String> groups = Stream.concat(byMethods, byLimits).collect(Collectors.toSet());
        Map<String, StandardTable> chosen = new TreeMap<>();
        if (!groups.isEmpty()) {
            List<StandardTable> all = tables.get();
            groups.forEach(g -> StandardTable.choose(all, g, plate).ifPresent(t -> chosen.put(g, t)));
        }
        return chosen;
    }

    private static Map<String, Method> found() {
        Map<String, Method> all = new TreeMap<>();
        families().flatMap(f -> f.get().methods().stream()).forEach(method -> {
            if (all.put(method.name(), method) != null) {
                throw new IllegalStateException("two methods are called \"" + method.name() + "\"");
            }
        });
        return Map.copyOf(all);
    }

    public static Optional<Method> byName(String name) {
        return Optional.ofNullable(ALL.get(name));
    }

    public static Set<String> names() {
        return ALL.keySet();
    }

    public static Collection<Method> all() {
        return ALL.values();
    }
}
