package org.juratest.simulators.family.breakers;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;
import org.juratest.simulators.fleet.Fleet;

/** The breakers behind the gear, by the label an operator would set ({@code MFR-CBK-07:B}), with their faults. */
public final class Plant {

    /** From a current that trips it at once to the parting of contacts, s. */
    private static final double AT_ONCE = 0.018;
    /** Of the delay that is set, what it takes with the clearing. */
    private static final double DELAYED = 1.08;
    /** By this name the leads are on the first pole, with the ground fault function in service. */
    private static final String EARTH = "G";

    /** One pole: how it heats, what its contact measures, what is wrong with the leads to it. */
    static final class Pole {
        private final Breakers.Breaker breaker;
        private final boolean earth;
        private Breakers.Pole truth;
        private ThermalElement element;
        private double extraMilliohms;
        private boolean open;

        /** @param earth whether the function that watches the current to earth is in service */
        Pole(Breakers.Breaker breaker, Breakers.Pole truth, boolean earth) {
            this.breaker = breaker;
            this.earth = earth;
            this.truth = truth;
            this.element = element(truth.slowness());
        }

        private ThermalElement element(double slowness) {
            ThermalElement.Kind kind = breaker.technology().equals("electronic")
                    ? ThermalElement.Kind.ELECTRONIC
                    : ThermalElement.Kind.BIMETAL;
            return new ThermalElement(
                    kind, breaker.ratings().get("longTimeSetting"), breaker.heatingSeconds() * slowness);
        }

        ThermalElement element() {
            return element;
        }

        boolean open() {
            return open;
        }

        /** Seconds until a current that stays trips it: whatever is quickest decides; infinity for never. */
        double tripAfter(double current, double now) {
            double quick = current >= magnetic() ? AT_ONCE : delayed(current);
            return Math.min(quick, element.timeToTrip(current, now));
        }

        /** Of the functions of an electronic unit that wait for a set time, s; infinity for none. */
        double delayed(double current) {
            double shortTime = delayed("shortTime", current);
            return earth ? Math.min(shortTime, delayed("ground", current)) : shortTime;
        }

        /** With I²t in, it waits longer below twice its pick-up. */
        private double delayed(String function, double current) {
            Double pickUp = breaker.ratings().get(function + "PickUp");
            if (pickUp == null || current < pickUp) {
                return Double.POSITIVE_INFINITY;
            }
            double delay = DELAYED * truth.delay() * breaker.ratings().get(function + "Delay");
            boolean square = breaker.ratings().getOrDefault(function + "Square", 0.0) > 0.5;
            return square ? delay * Math.max(1, Math.pow(2 * pickUp / current, 2)) : delay;
        }

        /** Contact, µΩ. */
        double microhms() {
            return truth.microhms();
        }

        /** Whole loop with leads, Ohm. */
        double loop() {
            return truth.microhms() * 1e-6 + 1.4e-3 + extraMilliohms * 1e-3;
        }

        /** Current above which it trips at once, A. */
        double magnetic() {
            Double set = breaker.ratings().get("instantaneousPickUp");
            return truth.magnet() * (set != null ? set : 8.8 * breaker.ratings().get("ratedCurrent"));
        }
    }

    private final List<Breakers.Breaker> breakers;
    private final Map<String, Pole> poles = new HashMap<>();
    private final List<Reclosers.Recloser> reclosers;
    private final Map<String, RecloserPhase> phases = new HashMap<>();
    private final Map<String, PulsedPole> pulsed = new HashMap<>();
    private final Map<String, String> leads = new HashMap<>();
    private final Map<String, MvBreakers.MvBreaker> switching = new TreeMap<>();

    private final Map<String, ResidualDevices.ResidualDevice> residual = new TreeMap<>();
    private final Set<String> operated = new HashSet<>();
    private final Map<String, Relays.Relay> relays = new TreeMap<>();

    public Plant(Fleet fleet) {
        breakers = Breakers.of(fleet);
        Breakers.truth(fleet).switching().forEach(b -> switching.put(b.position(), b));
        Breakers.truth(fleet).relays().forEach(r -> relays.put(r.position(), r));
        Breakers.truth(fleet).residual().forEach(d -> residual.put(d.position(), d));
        reclosers = Breakers.truth(fleet).reclosers();
        reclosers.forEach(r -> r.phases()
                .forEach((name, truth) -> phases.put(
                        r.position() + ":" + name,
                        new RecloserPhase(r, truth, fleet.seed() * 31 + (r.position() + name).hashCode()))));
        for (Breakers.Breaker b : breakers) {
            b.poles().forEach((name, truth) -> poles.put(b.position() + ":" + name, new Pole(b, truth, false)));
            if (b.ratings().containsKey("groundPickUp")) {
                poles.put(b.position() + ":" + EARTH, new Pole(b, b.poles().get("A"), true));
            }
        }
    }

    /** What the leads are on when the operator says this label; null for nothing. */
    synchronized @Nullable Pole at(String label) {
        return poles.get(leads.getOrDefault(label, label));
    }

    private static String positionOf(String label) {
        return label.contains(":") ? label.substring(0, label.indexOf(':')) : label;
    }

    /** The relay that the set is on; null for none. */
    synchronized Relays.@Nullable Relay relay(String label) {
        return relays.get(positionOf(label));
    }

    /** The relays as they are by now. */
    synchronized List<Relays.Relay> relays() {
        return List.copyOf(relays.values());
    }

    /**
     * A relay behaves otherwise from now on.
     *
     * @param what {@code pickup}, {@code slow} or {@code slope}: factors; {@code turned}: degrees; or one of its
     *     settings
     */
    public synchronized void relay(String position, String what, double to) {
        Relays.Relay r = relays.get(position);
        if (r == null) {
            throw new IllegalArgumentException("there is no relay \"" + position + "\"");
        }
        relays.put(
                position,
                switch (what) {
                    case "pickup" -> r.with(to, r.slowness(), r.turned(), r.steeper());
                    case "slow" -> r.with(r.pickUp(), to, r.turned(), r.steeper());
                    case "turned" -> r.with(r.pickUp(), r.slowness(), to, r.steeper());
                    case "slope" -> r.with(r.pickUp(), r.slowness(), r.turned(), to);
                    default -> r.setTo(what, to);
                });
    }

    /** The residual-current device that the tester is behind; null for none. */
    synchronized ResidualDevices.@Nullable ResidualDevice residual(String label) {
        return residual.get(positionOf(label));
    }

    /** Whether it has not operated since it was left alone. */
    synchronized boolean firstOperation(String label) {
        return !operated.contains(positionOf(label));
    }

    synchronized void operatedResidual(String label) {
        operated.add(positionOf(label));
    }

    /** The residual-current devices as they are by now. */
    synchronized List<ResidualDevices.ResidualDevice> residual() {
        return List.copyOf(residual.values());
    }

    /**
     * A residual-current device behaves otherwise from now on.
     *
     * @param what {@code share} or {@code slow}: factors; {@code sticks}: s; {@code earth}: Ohm
     */
    public synchronized void residual(String position, String what, double to) {
        ResidualDevices.ResidualDevice d = residual.get(position);
        if (d == null) {
            throw new IllegalArgumentException("there is no residual-current device \"" + position + "\"");
        }
        residual.put(
                position,
                switch (what) {
                    case "share" -> d.with(to, d.slowness(), d.sticks());
                    case "slow" -> d.with(d.share(), to, d.sticks());
                    case "sticks" -> d.with(d.share(), d.slowness(), to);
                    case "earth" -> d.earthed(to);
                    default -> throw new IllegalArgumentException("share, slow, sticks or earth, not " + what);
                });
    }

    /** Contact of a closed pole, µΩ; null where the leads are on none, or on one that is open. */
    synchronized @Nullable Double microhms(String label) {
        Pole pole = at(label);
        if (pole != null) {
            return pole.open() ? null : (Double) pole.microhms();
        }
        int colon = label.indexOf(':');
        MvBreakers.MvBreaker breaker = colon < 0 ? null : switching.get(label.substring(0, colon));
        int which = colon < 0 ? -1 : "ABC".indexOf(label.substring(colon + 1));
        return breaker == null || which < 0 ? null : breaker.microhms().get(which);
    }

    /** The medium-voltage breaker at a position or one of its poles; null for none. */
    synchronized MvBreakers.@Nullable MvBreaker switching(String label) {
        return switching.get(positionOf(label));
    }

    /** It operated. */
    synchronized void operated(String position, int times) {
        switching.computeIfPresent(position, (k, b) -> b.operated(times));
    }

    /** The medium-voltage breakers as they are by now. */
    synchronized List<MvBreakers.MvBreaker> switching() {
        return List.copyOf(switching.values());
    }

    /**
     * A medium-voltage breaker behaves otherwise from now on.
     *
     * @param what {@code friction} or {@code damper}: factors; {@code lagA} to {@code lagC}: ms of a pole
     */
    public synchronized void switching(String position, String what, double to) {
        MvBreakers.MvBreaker b = switching.get(position);
        if (b == null) {
            throw new IllegalArgumentException("there is no medium-voltage breaker \"" + position + "\"");
        }
        List<Double> lag = new ArrayList<>(b.lag());
        switch (what) {
            case "friction" -> switching.put(position, b.with(to, b.damper(), lag));
            case "damper" -> switching.put(position, b.with(b.friction(), to, lag));
            case "lagA", "lagB", "lagC" -> {
                lag.set("ABC".indexOf(what.charAt(3)), to);
                switching.put(position, b.with(b.friction(), b.damper(), lag));
            }
            default -> throw new IllegalArgumentException("friction, damper, lagA, lagB or lagC, not " + what);
        }
    }

    /** What the leads of the injection set are on, by the same label; null for nothing. */
    synchronized @Nullable Load load(String label) {
        String at = leads.getOrDefault(label, label);
        int second = at.indexOf(':') < 0 ? -1 : at.indexOf('.', at.indexOf(':'));
        // A lane of a phase and a level names its phase first.
        String phase = second < 0 ? at : at.substring(0, second);
        RecloserPhase recloser = phases.get(phase);
        Pole pole = poles.get(at);
        return recloser != null || pole == null ? recloser : pulsed.computeIfAbsent(at, k -> new PulsedPole(pole));
    }

    /**
     * A phase of a recloser behaves otherwise from now on.
     *
     * @param what {@code fast}, {@code delayed}, {@code pickup}: factors; {@code sticks}: s; {@code past}: a share
     */
    public synchronized void recloser(String label, String what, double to) {
        RecloserPhase phase = phases.get(label);
        if (phase == null) {
            throw new IllegalArgumentException("there is no phase of a recloser \"" + label + "\"");
        }
        Reclosers.Phase t = phase.truth();
        phase.becomes(
                switch (what) {
                    case "fast" -> new Reclosers.Phase(to, t.delayedSlowness(), t.pickUp(), t.sticks(), t.past());
                    case "delayed" -> new Reclosers.Phase(t.fastSlowness(), to, t.pickUp(), t.sticks(), t.past());
                    case "pickup" ->
                        new Reclosers.Phase(t.fastSlowness(), t.delayedSlowness(), to, t.sticks(), t.past());
                    case "sticks" ->
                        new Reclosers.Phase(t.fastSlowness(), t.delayedSlowness(), t.pickUp(), to, t.past());
                    case "past" ->
                        new Reclosers.Phase(t.fastSlowness(), t.delayedSlowness(), t.pickUp(), t.sticks(), to);
                    default -> throw new IllegalArgumentException("fast, delayed, pickup, sticks or past, not " + what);
                });
    }

    /** Whether there is such a phase of a recloser. */
    synchronized boolean hasPhase(String label) {
        return phases.containsKey(label);
    }

    /** The reclosers with their phases as they are by now. */
    synchronized List<Reclosers.Recloser> reclosers() {
        return reclosers.stream()
                .map(r -> {
                    Map<String, Reclosers.Phase> now = new TreeMap<>();
                    r.phases()
                            .keySet()
                            .forEach(name -> now.put(
                                    name, phases.get(r.position() + ":" + name).truth()));
                    return new Reclosers.Recloser(
                            r.position(),
                            r.control(),
                            r.minimumTrip(),
                            r.fastDial(),
                            r.delayedDial(),
                            r.fast(),
                            r.operations(),
                            r.open(),
                            r.reset(),
                            now);
                })
                .toList();
    }

    /** What the operations counter shows; the phases of a recloser operate together in service. */
    synchronized @Nullable Double counter(String position) {
        MvBreakers.MvBreaker breaker = switching.get(position);
        if (breaker != null) {
            return (double) breaker.operations();
        }
        return phases.entrySet().stream()
                .filter(e -> e.getKey().startsWith(position + ":"))
                .mapToDouble(e -> e.getValue().counter())
                .boxed()
                .reduce(Double::sum)
                .orElse(null);
    }

    /** The leads are on another pole than the label says; the same one again mends that. */
    public synchronized void lead(String label, String truth) {
        known(label);
        known(truth);
        leads.put(label, truth);
    }

    /** @param milliohms extra resistance of a bad connection; 0 for a good one */
    public synchronized void poor(String label, double milliohms) {
        known(label).extraMilliohms = milliohms;
    }

    public synchronized void open(String label, boolean open) {
        known(label).open = open;
    }

    /** @param factor 1 trips as designed */
    public synchronized void slowness(String label, double factor) {
        Pole pole = known(label);
        pole.truth = pole.truth.slow(factor);
        pole.element = pole.element(factor);
    }

    /** @param factor multiplies the contact resistance */
    public synchronized void contact(String label, double factor) {
        Pole pole = known(label);
        pole.truth = pole.truth.worn(factor);
    }

    /** @param factor 1 trips at once where it was made to */
    public synchronized void magnet(String label, double factor) {
        Pole pole = known(label);
        pole.truth = pole.truth.magnet(factor);
    }

    /** @param factor multiplies the delays of the unit of a breaker, whichever pole is named: all share it */
    public synchronized void delay(String label, double factor) {
        known(label);
        poles.forEach((name, pole) -> {
            if (positionOf(name).equals(positionOf(label))) {
                pole.truth = pole.truth.delay(factor);
            }
        });
    }

    /** The breakers with their poles as they are by now: what was mended or worn stays so. */
    public synchronized List<Breakers.Breaker> breakers() {
        return breakers.stream()
                .map(b -> {
                    Map<String, Breakers.Pole> now = new TreeMap<>();
                    b.poles().keySet().forEach(name -> now.put(name, known(b.position() + ":" + name).truth));
                    return new Breakers.Breaker(b.position(), b.technology(), b.ratings(), b.heatingSeconds(), now);
                })
                .toList();
    }

    synchronized boolean has(String label) {
        return poles.containsKey(label);
    }

    /** Insulation at 20 degC of a path by the pole it begins at, MΩ; null for none: {@code MFR-CBK-07:B-E}. */
    synchronized @Nullable Double megohms(String label) {
        int colon = label.indexOf(':');
        Pole pole = colon < 0 || colon + 2 > label.length() ? null : poles.get(label.substring(0, colon + 2));
        return pole == null ? null : (Double) pole.truth.megohms();
    }

    private Pole known(String label) {
        Pole pole = poles.get(label);
        if (pole == null) {
            throw new IllegalArgumentException("there is no pole \"" + label + "\"");
        }
        return pole;
    }
}
