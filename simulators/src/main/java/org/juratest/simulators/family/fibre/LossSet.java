package org.juratest.simulators.family.fibre;

import java.util.List;
import java.util.Random;
import org.jspecify.annotations.Nullable;
import org.juratest.simulators.StandInLog;
import org.juratest.simulators.scpi.Harmless;
import org.juratest.simulators.scpi.ScpiCommands;
import org.juratest.simulators.scpi.ScpiError;

/**
 * A source with a switch, an integrating detector and a meter of what comes back. While a reference is taken its cords
 * alone are connected, their far end open; else what its label names lies between them.
 */
final class LossSet extends Harmless {

    private static final List<Integer> WAVELENGTHS = List.of(850, 1300, 1310, 1550);
    /** What the open end of a flat-polished cord reflects, dB. */
    private static final double OPEN = -14.7;
    /** Length of the cord to the open end, m. */
    private static final double CORD = 3.2;

    private static final double DARK = -72;
    /** What dirt takes away, dB. */
    private static final double DIRT = 0.9;

    private static final double DIRT_RETURNS = 29;

    private final LinkBench links;
    private final CableBench cables;
    private final Random noise = new Random(41);
    private int wavelength = 1310;
    private int channel = 1;
    private boolean far;
    private boolean reference;
    private double distance;
    private double drift;

    LossSet(String serial, LinkBench links, CableBench cables, StandInLog log) {
        super("loss-tester", "Orbessa,LS-24," + serial + ",3.1", log);
        this.links = links;
        this.cables = cables;
        commands()
                .command("ROUTe:DIRection", a -> far = LinkBench.isFar(a))
                .command("ROUTe:CHANnel", a -> {
                    channel = (int) ScpiCommands.number(a, 1, 32);
                    cables.light(label(), channel);
                })
                .query("ROUTe:CHANnel", () -> String.valueOf(channel))
                .query("SOURce:WAVelength:CATalog", () -> "850,1300,1310,1550")
                .query(
                        "SOURce:LAUNch",
                        () -> wavelength < 1305 ? "\"encircled flux as IEC 61280-4-1 has it\"" : "\"single mode\"")
                .command("SOURce:WAVelength", this::wavelength)
                .query("SOURce:WAVelength", () -> String.valueOf(wavelength))
                .command("SENSe:MODE", this::mode)
                .query("SENSe:MODE", () -> reference ? "REF" : "MEAS")
                .command("SENSe:REFLection:DISTance", a -> distance = ScpiCommands.number(a, 0, 100_000))
                .query("READ:POWer", () -> ScpiCommands.nr3(power()))
                .query("READ:ECHO", () -> ScpiCommands.nr3(CORD + 0.04 * channel) + "," + ScpiCommands.nr3(reflected()))
                .query("READ:REFLection", () -> ScpiCommands.nr3(reflected()));
    }

    private void wavelength(String text) {
        int asked = (int) Math.round(ScpiCommands.number(text, 800, 1700));
        if (!WAVELENGTHS.contains(asked)) {
            throw ScpiError.outOfRange("850, 1300, 1310 or 1550");
        }
        wavelength = asked;
    }

    private void mode(String text) {
        reference = switch (text) {
            case "REF" -> true;
            case "MEAS" -> false;
            default -> throw ScpiError.outOfRange("REF or MEAS");
        };
    }

    /** The source grows warm and weak: a control command lets it. */
    synchronized void drift(double decibel) {
        drift = decibel;
    }

    private double sent() {
        return -7.9 - 0.07 * (channel * 7 % 5) - (wavelength < 1000 ? 2.4 : wavelength == 1550 ? 0.6 : 0) - drift;
    }

    private double power() {
        double through = reference ? 0 : loss();
        return through < 0 ? DARK : sent() - through + 0.006 * noise.nextGaussian();
    }

    /** What lies between the cords takes away, dB; negative where nothing comes through. */
    private double loss() {
        LinkBench.End end = links.at(label(), far);
        if (end != null) {
            return link(end);
        }
        Cables.Cable cable = cables.at(label());
        if (cable == null || channel > cable.fibres() || cable.to().get(channel - 1) == 0) {
            return -1;
        }
        cables.through(label());
        double loss = cable.loss().get(channel - 1) * (wavelength == 1550 || wavelength == 1300 ? 0.93 : 1);
        return loss
                + (cables.isDirty(cable, channel, false) ? DIRT : 0)
                + (cables.isDirty(cable, channel, true) ? DIRT : 0);
    }

    private double link(LinkBench.End end) {
        Links.Link link = end.link();
        double km = link.length() / 1000;
        double loss = 0.4 + km * (wavelength == 1550 ? 0.2 : 0.34);
        for (Links.Joint j : link.joints()) {
            if (j.only() == 0 || j.only() == end.fibre()) {
                loss += wavelength == 1550 ? j.loss1550() : j.loss1310();
            }
        }
        boolean dirty = links.isDirty(new LinkBench.End(link, end.fibre(), false))
                || links.isDirty(new LinkBench.End(link, end.fibre(), true));
        return loss + (dirty ? DIRT : 0);
    }

    private double reflected() {
        if (reference) {
            return OPEN + 0.02 * noise.nextGaussian();
        }
        Cables.@Nullable Cable cable = cables.at(label());
        if (cable == null || channel > cable.fibres()) {
            return -75;
        }
        double returned = cables.isDirty(cable, channel, false) || cables.isDirty(cable, channel, true)
                ? DIRT_RETURNS
                : cable.returnLoss().get(channel - 1);
        return -returned + 0.1 * noise.nextGaussian() - (distance < CORD - 1 ? 30 : 0);
    }
}
