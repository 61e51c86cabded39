package org.juratest.server.family;

import java.util.Comparator;
import java.util.List;
import org.juratest.formats.json.CoreJson;

/**
 * Families of assets: what a procedure, its methods and its stage are made for. Those without any yet have register
 * data only. A family is one where a folder with a {@code family.json} is found.
 */
public final class Families {

    private static final List<Family> FOUND = FamilyFiles.all("family.json").stream()
            .map(f -> {
                Family family = CoreJson.mapper().readValue(f.bytes(), Family.class);
                if (!family.id().equals(f.family())) {
                    throw new IllegalStateException(f + " calls itself " + family.id());
                }
                return family;
            })
            .sorted(Comparator.comparingInt(Family::order).thenComparing(Family::id))
            .toList();

    /** Names, as the register keeps them. */
    public static final List<String> ALL = FOUND.stream().map(Family::name).toList();

    private Families() {}

    /**
     * A family.
     *
     * @param id as its folders are called, and as procedures name it
     * @param name as people call it
     * @param order among the others in lists
     */
    public record Family(String id, String name, int order) {}

    /** Ids, as procedures name families. */
    public static List<String> ids() {
        return FOUND.stream().map(Family::id).toList();
    }
}
