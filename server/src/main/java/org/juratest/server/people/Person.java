package org.juratest.server.people;

/**
 * Somebody who signs in.
 *
 * @param role as {@link Role} prints
 * @param mustChange the password must be changed before anything else
 */
public record Person(String id, String name, String role, boolean mustChange) {

    /** Whether somebody decides about others' jobs, files and acts as well: engineers and supervisors. */
    public boolean decidesForOthers() {
        return role.equals(Role.ENGINEER.toString()) || role.equals(Role.SUPERVISOR.toString());
    }
}
