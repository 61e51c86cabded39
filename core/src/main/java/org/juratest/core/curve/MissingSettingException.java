package org.juratest.core.curve;

/** The nameplate lacks a value that a curve needs. */
public final class MissingSettingException extends IllegalArgumentException {

    private final String key;

    MissingSettingException(String key) {
        super("the nameplate has no " + key);
        this.key = key;
    }

    /** The nameplate key. */
    public String key() {
        return key;
    }
}
