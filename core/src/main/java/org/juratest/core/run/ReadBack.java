package org.juratest.core.run;

/**
 * What gear answered about its output after it was told to switch off.
 *
 * @param answered whether it answered at all
 * @param off      whether it said that its output is off; false if it did not answer
 * @param words    what it said
 */
public record ReadBack(boolean answered, boolean off, String words) {

  public static ReadBack silent(String words) {
    return new ReadBack(false, false, words);
  }
}
