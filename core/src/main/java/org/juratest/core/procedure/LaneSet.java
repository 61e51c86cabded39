package org.juratest.core.procedure;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/**
 * Lanes with the word for one of them: listed, made by a rule, or each of one set with each of another. A procedure
 * that is fitted to a device has them listed.
 *
 * @param label singular: phase, range, path
 * @param from nameplate key that says how many there are; absent: all
 * @param rule by which they are made; absent where they are listed
 * @param product names of the two sets they are made of; absent where they are listed
 */
public record LaneSet(
        String label,
        @Nullable String from,
        List<Lane> lanes,
        @Nullable LaneRule rule,
        @Nullable List<String> product) {

    /** Most lanes that a set can come to. */
    public static final int MOST = 2000;

    public LaneSet(String label, @Nullable String from, List<Lane> lanes) {
        this(label, from, lanes, null, null);
    }

    public LaneSet {
        lanes = List.copyOf(lanes);
        product = product == null || product.isEmpty() ? null : List.copyOf(product);
    }

    public Optional<Lane> lane(String id) {
        return lanes.stream().filter(l -> l.id().equals(id)).findFirst();
    }

    /**
     * The lanes that a rule makes.
     *
     * @param numbers of those that there are
     * @param colours in turn; empty for none
     */
    LaneSet counted(BitSet numbers, LaneRule by, List<String> colours) {
        List<Lane> made = new ArrayList<>();
        for (int n = numbers.nextSetBit(1); n >= 0; n = numbers.nextSetBit(n + 1)) {
            String colour = colours.isEmpty() ? null : colours.get((n - 1) % colours.size());
            made.add(new Lane(
                    Integer.toString(n),
                    by.label().replace(LaneRule.NUMBER, Integer.toString(n)),
                    List.of(),
                    null,
                    null,
                    colour,
                    null));
        }
        return new LaneSet(label, from, made);
    }

    /** Each lane of one set with each of another; a lane's parts are known by the names of the sets. */
    LaneSet product(String oneName, LaneSet one, String otherName, LaneSet other) {
        List<Lane> made = new ArrayList<>();
        for (Lane a : one.lanes) {
            for (Lane b : other.lanes) {
                Map<String, String> parts = new LinkedHashMap<>();
                parts.put(oneName, a.id());
                parts.put(otherName, b.id());
                made.add(new Lane(
                        a.id() + "." + b.id(),
                        a.label() + " " + b.label(),
                        List.of(a.id(), b.id()),
                        null,
                        null,
                        b.colour() == null ? a.colour() : b.colour(),
                        parts,
                        null,
                        a.beginsWithout() || b.beginsWithout()));
            }
        }
        return new LaneSet(label, from, made);
    }
}
