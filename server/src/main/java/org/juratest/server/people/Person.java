package org.juratest.server.people;

/** Somebody who signs in. */
public record Person(String id, String name, String role) {

  public static final String SUPERVISOR = "supervisor";
}
