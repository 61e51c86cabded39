package org.juratest.server.people;

import java.time.Duration;
import org.juratest.server.web.TooFastException;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.stereotype.Component;

/**
 * Slows who guesses passwords, at sign-in and at signatures: by person and address after a few failures in a row, by
 * address after many. Whoever has signed in from an address before is slowed there by their own failures only, so that
 * others' guesses lock nobody out. In the database and by its clock, as any process may be asked next.
 */
@Component
public class ProofBrake {

    /** Failures in a row that cost nothing. */
    private static final int FREE = 5;

    private static final int FREE_OF_ADDRESS = 25;
    private static final int LONGEST_SECONDS = 300;
    /** After this long without a failure all is forgotten. */
    private static final Duration FORGOTTEN = Duration.ofHours(1);

    private static final String ANYBODY = "";

    private final JdbcClient jdbc;

    ProofBrake(JdbcClient jdbc) {
        this.jdbc = jdbc;
    }

    /** @throws TooFastException if the next try must wait */
    public void check(String person, String address) {
        Long wait = jdbc.sql(
                        """
        SELECT CAST(ceil(extract(epoch FROM max(f.next_at) - clock_timestamp())) AS bigint) FROM failed_proof f
        WHERE f.address = :address AND f.next_at > clock_timestamp() AND (f.person = :person
          OR f.person = '' AND NOT EXISTS (SELECT 1 FROM known_address k WHERE k.person = :person
            AND k.address = :address))""")
                .param("person", shortened(person))
                .param("address", address)
                .query(Long.class)
                .optional()
                .orElse(null);
        if (wait != null && wait > 0) {
            throw new TooFastException(wait);
        }
    }

    /** A wrong password. */
    public void failed(String person, String address) {
        failed(shortened(person), address, FREE);
        failed(ANYBODY, address, FREE_OF_ADDRESS);
    }

    private void failed(String person, String address, int free) {
        jdbc.sql(
                        """
        INSERT INTO failed_proof AS f (person, address, count, last_at, next_at) VALUES (:person, :address, 1,
          clock_timestamp(), clock_timestamp())
        ON CONFLICT (person, address) DO UPDATE SET last_at = clock_timestamp(),
          count = CASE WHEN f.last_at < clock_timestamp() - :forgotten * interval '1 s' THEN 1 ELSE f.count + 1 END,
          next_at = clock_timestamp() + interval '1 s' * CASE
            WHEN f.last_at < clock_timestamp() - :forgotten * interval '1 s' OR f.count + 1 < :free THEN 0
            ELSE least(:longest, power(2, least(f.count + 1 - :free, 20))) END""")
                .param("person", person)
                .param("address", address)
                .param("forgotten", FORGOTTEN.toSeconds())
                .param("free", free)
                .param("longest", LONGEST_SECONDS)
                .update();
    }

    /** The right password: one's own failures are forgotten, and the address is known from now on. */
    public void proved(String person, String address) {
        jdbc.sql("DELETE FROM failed_proof WHERE person = :person AND address = :address")
                .param("person", person)
                .param("address", address)
                .update();
        jdbc.sql("INSERT INTO known_address (person, address, at) VALUES (:person, :address, now()) ON "
                        + "CONFLICT (person, address) DO UPDATE SET at = excluded.at")
                .param("person", person)
                .param("address", address)
                .update();
    }

    private static String shortened(String person) {
        // A made-up name as long as a body may be is no key of a table.
        return person.length() <= 64 ? person : person.substring(0, 64);
    }
}
