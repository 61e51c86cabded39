package org.juratest.core.bench;

import java.lang.reflect.InvocationTargetException;
import java.lang.reflect.Method;
import java.lang.reflect.Parameter;
import java.lang.reflect.Proxy;
import java.lang.reflect.RecordComponent;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import java.util.stream.Stream;
import org.juratest.core.method.StopSignal;
import org.juratest.core.port.Port;
import org.juratest.core.port.SetPoint;
import org.juratest.core.quantity.Unit;
import org.juratest.core.run.Announcement;
import org.juratest.core.run.Announcement.Bound;

/**
 * Stands between a method and its gear. A set-point goes through within what was announced and not otherwise; an output
 * goes on only where that was announced, after its set-points were given in this measurement, and while nobody has
 * asked for a stop; the watchdog is the guard's alone. Once closed, nothing goes through but what makes safe. None of
 * it depends on what the method does or leaves.
 */
public final class Gate {

    /**
     * What belongs to the engine and is never a method's: a method that feeds the watchdog would be a guard of its own.
     */
    private static final Set<String> ENGINES_OWN = Set.of("feedWatchdog", "watchdog", "connectTo", "close");

    private final Announcement announced;
    private final StopSignal stop;
    private final Runnable beforeOn;
    private final Set<String> given = new HashSet<>();
    private boolean closed;
    private long onSince;
    private boolean on;

    /** A method asked for more than was announced; nothing of it reached the gear. */
    public static final class NotAnnouncedException extends RuntimeException {
        NotAnnouncedException(String message) {
            super(message);
        }
    }

    /** @param beforeOn called right before an output goes on; throws to keep it off */
    public Gate(Announcement announced, StopSignal stop, Runnable beforeOn) {
        this.announced = announced;
        this.stop = stop;
        this.beforeOn = beforeOn;
    }

    /** A port in a role, behind this gate. */
    public <T extends Port> T limited(Class<T> role, T port) {
        return role.cast(Proxy.newProxyInstance(
                role.getClassLoader(),
                new Class<?>[] {role},
                (proxy, method, given) -> called(role, port, method, given == null ? new Object[0] : given)));
    }

    /** Nothing goes through any more. */
    public synchronized void close() {
        closed = true;
    }

    /**
     * Whether an output has been on for longer than was announced.
     *
     * @param nanos now, on a monotonic clock
     * @param factor how much faster than the clock the gear's time runs
     */
    synchronized boolean isOverdue(long nanos, double factor) {
        // A tenth and five seconds: gear that ends by its own time limit does so first.
        return on && nanos - onSince > (announced.longest() * 1.1 / factor + 5) * 1e9;
    }

    private Object called(Class<?> role, Port port, Method method, Object[] arguments) throws Throwable {
        if (method.getDeclaringClass().equals(Object.class)) {
            return method.invoke(port, arguments);
        }
        String name = method.getName();
        if (name.equals("makeSafe")) {
            synchronized (this) {
                on = false;
            }
            return invoked(port, method, arguments);
        }
        if (ENGINES_OWN.contains(name)) {
            throw new NotAnnouncedException("a method does not call " + name + " of gear; that is the engine's");
        }
        synchronized (this) {
            if (closed) {
                // Where a stop closed it, the stop is the reason; and what asked for it, such as gear that fell silent.
                stop.check();
                throw new NotAnnouncedException("the measurement is over; its gear takes nothing from it any more");
            }
            setPoints(method, arguments);
        }
        return name.equals("outputOn") ? switchedOn(role, port, method, arguments) : invoked(port, method, arguments);
    }

    private Object switchedOn(Class<?> role, Port port, Method method, Object[] arguments) {
        if (!announced.outputs().contains(role.getSimpleName())) {
            throw new NotAnnouncedException("an output of a " + role.getSimpleName() + " was not announced");
        }
        Stream.of(role.getMethods())
                .flatMap(Gate::needed)
                .filter(n -> !given.contains(n))
                .findFirst()
                .ifPresent(n -> {
                    throw new NotAnnouncedException("the " + n
                            + " was not set in this measurement; what the gear was set to before must not go on");
                });
        beforeOn.run();
        stop.switchOn(() -> {
            synchronized (this) {
                if (closed) {
                    throw new NotAnnouncedException("the measurement is over; nothing is switched on any more");
                }
                on = true;
                onSince = System.nanoTime();
            }
            try {
                invoked(port, method, arguments);
            } catch (RuntimeException | Error e) {
                throw e;
            } catch (Throwable e) {
                throw new IllegalStateException(e);
            }
        });
        return null;
    }

    private static Object invoked(Port port, Method method, Object[] arguments) throws Throwable {
        try {
            return method.invoke(port, arguments);
        } catch (InvocationTargetException e) {
            throw e.getCause();
        }
    }

    /** Set-points of a port's method that must be given before its output goes on. */
    private static Stream<String> needed(Method method) {
        return Stream.of(method.getParameters())
                .flatMap(p -> Stream.concat(
                        Stream.ofNullable(p.getAnnotation(SetPoint.class)),
                        components(p).flatMap(c -> Stream.ofNullable(c.getAnnotation(SetPoint.class)))))
                .filter(SetPoint::first)
                .map(SetPoint::value);
    }

    private static Stream<RecordComponent> components(Parameter parameter) {
        return parameter.getType().isRecord() ? Stream.of(parameter.getType().getRecordComponents()) : Stream.empty();
    }

    private void setPoints(Method method, Object[] arguments) throws ReflectiveOperationException {
        Parameter[] parameters = method.getParameters();
        for (int n = 0; n < parameters.length; n++) {
            SetPoint own = parameters[n].getAnnotation(SetPoint.class);
            if (own != null) {
                within(own.value(), ((Number) arguments[n]).doubleValue());
            }
            for (RecordComponent component : components(parameters[n]).toList()) {
                SetPoint part = component.getAnnotation(SetPoint.class);
                if (part != null) {
                    within(part.value(), ((Number) component.getAccessor().invoke(arguments[n])).doubleValue());
                }
            }
        }
    }

    private void within(String setPoint, double value) {
        List<Bound> bounds = announced.boundsOf(setPoint);
        if (bounds.isEmpty()) {
            throw new NotAnnouncedException(
                    "the " + setPoint + " was to be set to " + value + ", but nothing was announced of it");
        }
        for (Bound bound : bounds) {
            if (!bound.allows(value)) {
                throw new NotAnnouncedException("the " + setPoint + " was to be set to " + value + " "
                        + Unit.of(bound.unit()).symbol() + ", which is outside what was announced (" + bound.source()
                        + ")");
            }
        }
        given.add(setPoint);
    }
}
