package org.juratest.server.web;

/** Hears how far something has come. */
@FunctionalInterface
public interface Progress {

    /**
     * @param phase what is being done, in words
     * @param total 0 where it is not known
     * @throws CancelledException if nobody waits for it any more
     */
    void at(String phase, long done, long total);

    /** Whoever asked for it has gone. */
    final class CancelledException extends RuntimeException {
        private static final long serialVersionUID = 1;

        public CancelledException(Throwable cause) {
            super("nobody waits for it any more", cause);
        }
    }
}
