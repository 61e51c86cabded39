package org.juratest.core.procedure;

import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/**
 * One of the ways a step repeats.
 *
 * @param touches ids of lanes of other sets it shares a conductor with (a path between two its ends)
 * @param from present only if the lane set's nameplate value is at least this (the third of three); absent: always
 * @param ifRated present only if the nameplate has this rating (what the device covers); absent: always
 * @param colour by its common name, where lanes are told apart by colours; absent for none
 * @param ifText present only if the nameplate's text says so, such as {@code kind=multimode}; absent: always
 * @param parts ids of the lanes it is made of, by lane set; absent for a lane that is not made of others
 * @param optional whether a run begins without it, and nothing is missing where it stays left out; absent: no
 */
public record Lane(
        String id,
        String label,
        List<String> touches,
        @Nullable Integer from,
        @Nullable String ifRated,
        @Nullable String colour,
        @Nullable Map<String, String> parts,
        @Nullable String ifText,
        @Nullable Boolean optional) {

    public Lane(
            String id,
            String label,
            List<String> touches,
            @Nullable Integer from,
            @Nullable String ifRated,
            @Nullable String colour,
            @Nullable Map<String, String> parts) {
        this(id, label, touches, from, ifRated, colour, parts, null);
    }

    public Lane(
            String id,
            String label,
            List<String> touches,
            @Nullable Integer from,
            @Nullable String ifRated,
            @Nullable String colour,
            @Nullable Map<String, String> parts,
            @Nullable String ifText) {
        this(id, label, touches, from, ifRated, colour, parts, ifText, null);
    }

    public Lane(String id, String label, List<String> touches, @Nullable Integer from) {
        this(id, label, touches, from, null);
    }

    public Lane(String id, String label, List<String> touches, @Nullable Integer from, @Nullable String ifRated) {
        this(id, label, touches, from, ifRated, null, null);
    }

    /** Stands for "no lane" in keys. */
    public static final String NONE = "-";

    public Lane {
        touches = List.copyOf(touches);
        optional = Boolean.TRUE.equals(optional) ? Boolean.TRUE : null;
        parts = parts == null || parts.isEmpty() ? null : Map.copyOf(parts);
        if (id.isBlank() || id.equals(NONE) || id.contains("/")) {
            throw new IllegalArgumentException("a lane id has no slash and is not \"-\": \"" + id + "\"");
        }
    }

    /** Whether a run begins without it. */
    public boolean beginsWithout() {
        return optional != null;
    }

    /** Whether a device has it, by what its nameplate says in words. */
    boolean fits(Nameplate plate) {
        int is = ifText == null ? -1 : ifText.indexOf('=');
        return ifText == null
                || is > 0 && ifText.substring(is + 1).equals(plate.texts().get(ifText.substring(0, is)));
    }

    /** The lane of a set that this one is, or is made of; absent where it has nothing to do with that set. */
    public @Nullable String in(String set, String own) {
        return set.equals(own) ? id : parts == null ? null : parts.get(set);
    }
}
