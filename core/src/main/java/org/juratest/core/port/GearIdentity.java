package org.juratest.core.port;

/** Who gear says it is (IEEE 488.2, 10.14: four fields of {@code *IDN?}). */
public record GearIdentity(String maker, String model, String serial, String firmware) {

    /**
     * Reads the answer to {@code *IDN?}.
     *
     * @throws GearException if it does not have four fields
     */
    public static GearIdentity parse(String answer) {
        String[] fields = answer.split(",", -1);
        if (fields.length != 4 || fields[0].isBlank() || fields[2].isBlank()) {
            throw new GearException(
                    GearException.Fault.GARBLED, "its identity \"" + shortened(answer) + "\" cannot be read");
        }
        return new GearIdentity(fields[0].trim(), fields[1].trim(), fields[2].trim(), fields[3].trim());
    }

    private static String shortened(String answer) {
        String text = answer.replaceAll("[^\\x20-\\x7e]", "?");
        return text.length() <= 60 ? text : text.substring(0, 60) + "…";
    }

    @Override
    public String toString() {
        return maker + "," + model + "," + serial + "," + firmware;
    }
}
