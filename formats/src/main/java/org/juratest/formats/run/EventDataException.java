package org.juratest.formats.run;

import tools.jackson.core.JacksonException;
import tools.jackson.databind.DatabindException;

/** The data of an event cannot be read; names the field at fault. */
public final class EventDataException extends IllegalArgumentException {

  private final String field;

  EventDataException(String type, JacksonException cause) {
    super("the data of \"" + type + "\" cannot be read" + (path(cause).isEmpty() ? "" : " at " + path(cause))
        + ": " + cause.getOriginalMessage(), cause);
    this.field = path(cause);
  }

  /** Path of the field, such as {@code limit.high}; empty if the whole is at fault. */
  public String field() {
    return field;
  }

  private static String path(JacksonException e) {
    if (!(e instanceof DatabindException)) {
      return "";
    }
    StringBuilder path = new StringBuilder();
    for (JacksonException.Reference step : e.getPath()) {
      if (step.getPropertyName() != null) {
        path.append(path.isEmpty() ? "" : ".").append(step.getPropertyName());
      } else if (step.getIndex() >= 0) {
        path.append('[').append(step.getIndex()).append(']');
      }
    }
    return path.toString();
  }
}
