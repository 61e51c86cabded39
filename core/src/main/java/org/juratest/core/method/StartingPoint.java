package org.juratest.core.method;

import org.juratest.core.quantity.Quantity;

/**
 * A setting of what drives a test that would have given what was wanted, found from what it did give: gear that is not
 * regulated gives less into one type of device than into another.
 *
 * @param param parameter of the method that it is a value of
 * @param value in the unit the method declares for it
 * @param wanted what was wanted
 * @param hit what came
 */
public record StartingPoint(String param, double value, Quantity wanted, Quantity hit) {}
