package org.juratest.server.db;

import java.security.SecureRandom;
import java.time.Instant;
import java.util.UUID;

/** Time-ordered ids (RFC 9562, 5.7): 48 bits of Unix milliseconds, then random. */
public final class UuidV7 {

    private static final SecureRandom RANDOM = new SecureRandom();

    private UuidV7() {}

    public static UUID at(Instant time) {
        long high = time.toEpochMilli() << 16 | 0x7000L | RANDOM.nextInt(1 << 12);
        long low = 0x8000000000000000L | RANDOM.nextLong() >>> 2;
        return new UUID(high, low);
    }

    public static UUID now() {
        return at(Instant.now());
    }
}
