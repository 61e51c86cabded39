package org.juratest.core.register;

/**
 * Something wrong with what was given for a field, and what to do about it.
 *
 * @param field key of the field, such as {@code plate.ratedCurrent}
 * @param what a sentence: what is the matter, then the remedy
 */
public record FieldProblem(String field, String what) {}
