package org.juratest.core.procedure;

/**
 * Gear a procedure needs.
 *
 * @param role  role of the gear: {@code current-source}, {@code micro-ohmmeter}, {@code insulation-tester}
 * @param needs what it must be able to do, in words
 */
public record GearNeed(String id, String role, String needs) {
}
