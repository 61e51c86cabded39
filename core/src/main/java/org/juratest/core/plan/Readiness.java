package org.juratest.core.plan;

import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/** Whether something can be done on a day by those who would do it, and what it lacks. */
public final class Readiness {

    private Readiness() {}

    /** How an outage or permit stands. */
    public enum Outage {
        NOT_ASKED,
        ASKED,
        GRANTED,
        REFUSED
    }

    /**
     * What a plan needs.
     *
     * @param authorisation that whoever does it holds; absent for none
     * @param people at least 1
     * @param parts how many of each, by code
     */
    public record Needs(
            boolean outage,
            @Nullable String authorisation,
            int people,
            @Nullable Season season,
            Map<String, Integer> parts) {
        public Needs {
            if (people < 1) {
                throw new IllegalArgumentException("at least one person is needed, not " + people);
            }
            parts = Map.copyOf(parts);
        }
    }

    /**
     * An authorisation of a person.
     *
     * @param expires last day it holds; absent for one without end
     */
    public record Authorisation(String person, String kind, LocalDate since, @Nullable LocalDate expires) {

        public boolean holds(LocalDate day) {
            return !day.isBefore(since) && (expires == null || !day.isAfter(expires));
        }
    }

    /**
     * What is there on the day.
     *
     * @param people who would do it; empty while nobody is chosen: then anybody's authorisation counts
     * @param authorisations of everybody
     * @param parts how many of each are usable on the day, by code
     */
    public record There(
            Outage outage, List<String> people, List<Authorisation> authorisations, Map<String, Integer> parts) {}

    /** Something that is lacking. */
    public sealed interface Lack {
        /** The outage or permit. */
        record OutageLacks(Outage how) implements Lack {}

        /** An authorisation: of a person, or of everybody where none is named; with the day it ended, where it did. */
        record AuthorisationLacks(String kind, @Nullable String person, @Nullable LocalDate ended) implements Lack {}

        /** People beside those who are chosen. */
        record PeopleLack(int needed, int there) implements Lack {}

        /** The season. */
        record OutOfSeason(Season season) implements Lack {}

        /** Parts that are usable on the day. */
        record PartsLack(String part, int needed, int there) implements Lack {}
    }

    /** How the outage stands for what several cover: one that is granted is enough, and a refusal is known. */
    public static Outage outage(Collection<Outage> covering) {
        return Stream.of(Outage.GRANTED, Outage.REFUSED, Outage.ASKED)
                .filter(covering::contains)
                .findFirst()
                .orElse(Outage.NOT_ASKED);
    }

    /** What lacks on a day; empty where it is ready. */
    public static List<Lack> lacks(Needs needs, There there, LocalDate day) {
        List<Lack> lacks = new ArrayList<>();
        if (needs.outage && there.outage != Outage.GRANTED) {
            lacks.add(new Lack.OutageLacks(there.outage));
        }
        if (needs.authorisation != null) {
            authorised(needs.authorisation, there, day, lacks);
        }
        if (!there.people.isEmpty() && there.people.size() < needs.people) {
            lacks.add(new Lack.PeopleLack(needs.people, there.people.size()));
        }
        if (needs.season != null && !needs.season.holds(day)) {
            lacks.add(new Lack.OutOfSeason(needs.season));
        }
        new TreeMap<>(needs.parts).forEach((part, count) -> {
            int usable = there.parts.getOrDefault(part, 0);
            if (usable < count) {
                lacks.add(new Lack.PartsLack(part, count, usable));
            }
        });
        return lacks;
    }

    private static void authorised(String kind, There there, LocalDate day, List<Lack> lacks) {
        List<Authorisation> ofKind =
                there.authorisations.stream().filter(a -> a.kind.equals(kind)).toList();
        if (there.people.isEmpty()) {
            if (ofKind.stream().noneMatch(a -> a.holds(day))) {
                lacks.add(new Lack.AuthorisationLacks(kind, null, null));
            }
            return;
        }
        // One of those who go is enough: the others work under that one's eyes.
        if (there.people.stream().anyMatch(p -> ofKind.stream().anyMatch(a -> a.person.equals(p) && a.holds(day)))) {
            return;
        }
        String first = there.people.get(0);
        LocalDate ended = ofKind.stream()
                .filter(a -> a.person.equals(first) && a.expires != null && day.isAfter(a.expires))
                .map(Authorisation::expires)
                .max(LocalDate::compareTo)
                .orElse(null);
        lacks.add(new Lack.AuthorisationLacks(kind, first, ended));
    }
}
