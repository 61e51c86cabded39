package org.juratest.server.family;

import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
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
     * @param roles what people call gear of a role, where that is another word than the role's own
     */
    public record Family(String id, String name, int order, @Nullable Map<String, String> roles) {}

    /** What people call gear of a role. */
    public static String gearWord(String role) {
        return FOUND.stream()
                .flatMap(f -> f.roles() == null
                        ? Stream.empty()
                        : Stream.ofNullable(f.roles().get(role)))
                .findFirst()
                .orElse(role.replace('-', ' '));
    }

    /** Ids, as procedures name families. */
    public static List<String> ids() {
        return FOUND.stream().map(Family::id).toList();
    }
}
