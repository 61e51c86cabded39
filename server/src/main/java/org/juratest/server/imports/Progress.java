package org.juratest.server.imports;

/** Hears how far something has come. */
@FunctionalInterface
interface Progress {

    /**
     * @param phase what is being done, in words
     * @param total 0 where it is not known
     * @throws CancelledException if nobody waits for it any more
     */
    void at(String phase, long done, long total);

    /** Whoever asked for it has gone. */
    final class CancelledException extends RuntimeException {
        CancelledException(Throwable cause) {
            super("nobody waits for it any more", cause);
        }
    }
}
