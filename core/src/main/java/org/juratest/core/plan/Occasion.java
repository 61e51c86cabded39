package org.juratest.core.plan;

/** What a plan waits for: its interval, or something that happens and asks for an extra test. */
public enum Occasion {
    INTERVAL,
    ACCEPTANCE,
    EXCHANGE,
    REPAIR,
    FIRMWARE,
    SETTING,
    FINDING
}
