package org.juratest.core.port;

import java.lang.annotation.ElementType;
import java.lang.annotation.Retention;
import java.lang.annotation.RetentionPolicy;
import java.lang.annotation.Target;

/**
 * Marks what tells gear how much it is to give: a current, a frequency, a level, a time. The engine lets such a value
 * through only within what was announced under its name, in the base unit of its dimension; a name of which nothing was
 * announced is refused.
 */
@Retention(RetentionPolicy.RUNTIME)
@Target({ElementType.PARAMETER, ElementType.RECORD_COMPONENT})
public @interface SetPoint {

    /** Name by which bounds of an announcement are found. */
    String value();

    /**
     * Whether it must have been given before the output goes on: what was set in an earlier measurement must not go on
     * with it.
     */
    boolean first() default true;
}
