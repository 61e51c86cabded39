package org.juratest.server.people;

import java.util.concurrent.Semaphore;
import java.util.concurrent.TimeUnit;
import org.jspecify.annotations.Nullable;
import org.juratest.server.web.CrowdedException;
import org.springframework.security.crypto.password.PasswordEncoder;

/**
 * Hashes one password at a time, however many are sent: what watches live outputs needs a processor too. Who waits too
 * long is sent away.
 */
public final class BoundedPasswords implements PasswordEncoder {

    private static final int QUEUE = 24;
    private static final long PATIENCE_SECONDS = 8;

    private final PasswordEncoder encoder;
    private final Semaphore hashing = new Semaphore(1, true);

    BoundedPasswords(PasswordEncoder encoder) {
        this.encoder = encoder;
    }

    private interface Work<T> {
        T now();
    }

    private <T> T bounded(Work<T> work) {
        try {
            if (hashing.getQueueLength() >= QUEUE || !hashing.tryAcquire(PATIENCE_SECONDS, TimeUnit.SECONDS)) {
                throw new CrowdedException();
            }
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw new CrowdedException();
        }
        try {
            return work.now();
        } finally {
            hashing.release();
        }
    }

    @Override
    public @Nullable String encode(@Nullable CharSequence password) {
        return bounded(() -> encoder.encode(password));
    }

    @Override
    public boolean matches(@Nullable CharSequence password, @Nullable String hash) {
        return bounded(() -> encoder.matches(password, hash));
    }

    @Override
    public boolean upgradeEncoding(@Nullable String hash) {
        return encoder.upgradeEncoding(hash);
    }
}
