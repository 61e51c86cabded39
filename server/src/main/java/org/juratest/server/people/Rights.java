package org.juratest.server.people;

import java.util.ArrayList;
import java.util.EnumSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;

/**
 * Who may do what: one row for each thing that is done, the requests it is done by, and the roles that may. What is not
 * in it nobody may. Where only one's own may be changed, the row says so; {@link Reach} holds it.
 */
public final class Rights {

    /**
     * One thing that is done.
     *
     * @param what in words
     * @param roles that may
     * @param only what narrows it for some of them, in words; absent where nothing does
     * @param requests method and address, with names in braces
     */
    public record Right(String what, Set<Role> roles, @Nullable String only, List<String> requests) {
        public Right {
            roles = Set.copyOf(roles);
            requests = List.copyOf(requests);
        }
    }

    /**
     * Letters of roles: technician, engineer, supervisor, auditor, administrator. Words, letters, what narrows it; then
     * its requests.
     */
    private static final String TABLE =
            """
      Sign in and out, change one's own password, end one's own sessions | tesad
        GET /api/session; DELETE /api/session; PUT /api/session/password; GET /api/session/others;
          DELETE /api/session/others/{id}
      Stop whatever is armed or live, whoever drives it | tesad
        POST /api/runs/{run}/stop
      Read rounds, jobs and plans | tesad
        GET /api/round; GET /api/rounds; GET /api/rounds/{person}/{day}; GET /api/rounds/{person}/{day}/free;
          GET /api/rounds/{person}/{day}/sheet; GET /api/jobs; GET /api/jobs/{job}
        GET /api/jobs/{job}/decisions; GET /api/plans; GET /api/plans/{id}; GET /api/plans/{id}/revisions;
          GET /api/plan-choices; GET /api/plan/jobs; GET /api/plan/jobs/{job}; GET /api/plan/load
        GET /api/jobs/moves; GET /api/jobs/running; GET /api/plan/proposals/current
        GET /api/plan/news; GET /api/plan/resources; GET /api/compliance; GET /api/compliance/jobs;
          GET /api/compliance/paper; GET /api/compliance/table; POST /api/plans/preview
      Read records, runs and their evidence | tesad
        GET /api/records; GET /api/records/choices; GET /api/records/export/{kind};
          GET /api/records/{position}/{year}/{n}; GET /api/records/{position}/{year}/{n}/csv
        GET /api/records/{position}/{year}/{n}/files; GET /api/records/{position}/{year}/{n}/files/names
        GET /api/records/{position}/{year}/{n}/json; GET /api/records/{position}/{year}/{n}/pdf; GET /api/comparisons;
          GET /api/traces; GET /api/blobs/{sha256}; GET /api/file-naming
        GET /api/runs/{run}; GET /api/runs/{run}/events; GET /api/runs/{run}/stream; GET /api/runs/{run}/curve;
          GET /api/runs/{run}/failed-before; GET /api/runs/{run}/carried/{step};
          GET /api/runs/{run}/starting-points/{step}; GET /api/starting-points;
          POST /api/runs/{run}/beat; GET /api/series/{position}; GET /api/test-sets/{position}
      Read the register, procedures, gear and people | tesad
        GET /api/register; GET /api/register/acts; GET /api/register/assets/{id}; GET /api/register/do-not-use;
          GET /api/register/export; GET /api/register/find; GET /api/register/free-code
        GET /api/register/imports/{id}; GET /api/register/imports/{id}/problems;
          GET /api/register/measuring-installations/{code}; GET /api/register/positions/{code};
          GET /api/register/sites/{code}
        GET /api/assets/{key}; GET /api/asset-classes; GET /api/asset-classes/{code}/document;
          GET /api/extra-fields/{id}/use; GET /api/attachments/{id}; GET /api/attachments/{id}/thumbnail
        GET /api/procedures; GET /api/procedures/schema; GET /api/procedures/{code}/{version}; GET /api/curves;
          GET /api/standard-tables; GET /api/standard-tables/{id}/{revision}; GET /api/curve-models;
          POST /api/curve-models/preview;
          GET /api/gear; GET /api/variants; GET /api/variants/{code}
        GET /api/variants/{code}/{revision}; GET /api/search; GET /api/people; GET /api/people/changes; GET /api/rights
      Read the condition of the fleet | tesad
        GET /api/condition; GET /api/condition/devices; GET /api/condition/devices/table;
          GET /api/condition/trends/{key}; GET /api/condition/shared; GET /api/month; GET /api/month/paper
      Choose the record that others are compared with, keep the watch list | tes
        PUT /api/condition/baselines/{asset}; PUT /api/condition/watch/{asset}; DELETE /api/condition/watch/{asset}
      Keep a calendar address of one's own | tesad
        GET /api/calendar-address; POST /api/calendar-address; DELETE /api/calendar-address
      Carry out tests: open, drive, measure, enter, finish, give up | tes
        POST /api/jobs/{job}/run; POST /api/runs/{run}/screen; POST /api/runs/{run}/events;
          POST /api/runs/{run}/entries; POST /api/runs/{run}/arm; POST /api/runs/{run}/energise;
          POST /api/runs/{run}/hand
        POST /api/runs/{run}/device; POST /api/runs/{run}/path; POST /api/runs/{run}/gear;
          POST /api/runs/{run}/variant; POST /api/runs/{run}/variants; POST /api/runs/{run}/finish
        POST /api/runs/{run}/carried/{step}; PUT /api/series/{position}; POST /api/series/{position}/next;
        PUT /api/test-sets/{position}; POST /api/test-sets/{position}/start
        PUT /api/starting-points/{id}; DELETE /api/starting-points/{id}
        POST /api/runs/{run}/abort; POST /api/blobs; POST /api/variants
      Sign that work was performed, amend records | tes | who performed it signs
        POST /api/records/{position}/{year}/{n}/signatures; POST /api/runs/{run}/signatures;
          POST /api/records/{position}/{year}/{n}/amendments
      Review records | s | nobody their own work
        POST /api/records/{position}/{year}/{n}/reviews
      Put jobs on days, put back, defer, say what hinders | tes | technicians: their own jobs and those nobody has, \
      deferred by at most 31 days
        PUT /api/jobs/{job}/day; POST /api/jobs/{job}/deferral; POST /api/jobs/{job}/obstacle;
          POST /api/jobs/{job}/put-back; POST /api/jobs/{job}/resumption
        PUT /api/jobs/{job}/fixed; POST /api/jobs/moves; POST /api/jobs/moves/{id}/undo
        POST /api/rounds/{person}/{day}/jobs; PUT /api/rounds/{person}/{day}/order;
          PUT /api/rounds/{person}/{day}/start; PUT /api/rounds/{person}/{day}/loadout
      Set the risk that advised intervals bear | se
        PUT /api/condition/advice-risk
      Raise jobs, tell what happened to a device, read its counter | tes
        POST /api/jobs; POST /api/condition/jobs; POST /api/assets/{asset}/events; POST /api/assets/{asset}/counter
      Ask for outages, count parts | tes
        POST /api/plan/outages; POST /api/plan/parts; PUT /api/plan/parts/{part}/lots/{lot}
      Answer outages | s | nobody one they asked for
        PUT /api/plan/outages/{outage}
      Hours, absences and authorisations of people, access to sites | s
        PUT /api/plan/people/{person}/time; POST /api/plan/people/{person}/absences;
          DELETE /api/plan/absences/{absence}; PUT /api/plan/people/{person}/authorisations
        DELETE /api/plan/people/{person}/authorisations/{kind}; PUT /api/plan/sites/{site}/access
      Ask for proposals to share out jobs, take them up, throw them away | s
        POST /api/plan/proposals; POST /api/plan/proposals/{id}/stop; POST /api/plan/proposals/{id}/taken;
          DELETE /api/plan/proposals/{id}
      Make and change plans | es
        POST /api/plans; PUT /api/plans/{id}
      Devices and their places: take in, exchange, correct, mark as not to be used, \
      attach files | tes | technicians take off only files they attached, and undo only what they did
        POST /api/register/positions; POST /api/register/measuring-installations; PATCH /api/register/positions/{key};
          PATCH /api/register/measuring-installations/{key}
        POST /api/register/assets; POST /api/register/exchanges; PATCH /api/register/assets/{key};
          PUT /api/register/assets/{id}/do-not-use; POST /api/attachments; PATCH /api/register/files/{key}
        DELETE /api/attachments/{id}; POST /api/register/acts/{id}/undo
      Bring in files that other gear wrote, make records of them | tes | only what they brought in themselves
        POST /api/intakes; GET /api/intakes/{id}; POST /api/intakes/{id}/files; PATCH /api/intakes/{id}/files/{n};
          GET /api/intakes/{id}/places; DELETE /api/intakes/{id}; POST /api/intakes/{id}/store
      Sites; take places out of use, let a device be used again, retire | es
        POST /api/register/sites; PATCH /api/register/{kind}/{key}; DELETE /api/register/{kind}/{key}
        DELETE /api/register/assets/{id}/do-not-use; PUT /api/register/assets/{id}/retirement;
          DELETE /api/register/assets/{id}/retirement; PUT /api/register/positions/{code}/retirement
        DELETE /api/register/positions/{code}/retirement
      Bring tables into the register | es
        POST /api/register/imports; PUT /api/register/imports/{id}; DELETE /api/register/imports/{id};
          POST /api/register/imports/{id}/check; POST /api/register/imports/{id}/store
      Classes, own fields, procedures, curves and tables of standards | es
        POST /api/asset-classes; POST /api/asset-classes/documents; PUT /api/asset-classes/{code};
          DELETE /api/asset-classes/{code}; POST /api/extra-fields; DELETE /api/extra-fields/{id}
        POST /api/procedures; POST /api/curves; PUT /api/standard-tables/{id};
          PUT /api/curve-models/{id}
      Name the files of what a work order captured | tes
        PUT /api/records/{position}/{year}/{n}/files/names
      Name the files of records | sd
        PUT /api/file-naming
      People: add, change, end, reset passwords, end sessions | d
        POST /api/people; PATCH /api/people/{id}; POST /api/people/{id}/password; GET /api/people/{id}/sessions;
          DELETE /api/people/{id}/sessions/{session}
      """;

    private static final List<Right> ALL = read();
    /** Requests by their method and address; the more exact first. */
    private static final Map<Pattern, Right> BY_REQUEST = byRequest();

    private Rights() {}

    public static List<Right> all() {
        return ALL;
    }

    private static List<Right> read() {
        List<Right> rights = new ArrayList<>();
        String[] head = null;
        List<String> requests = new ArrayList<>();
        for (String line : (TABLE + "|").split("\\n")) {
            if (line.startsWith("  ")) {
                for (String request : line.strip().split(";\\s*")) {
                    requests.add(request);
                }
                continue;
            }
            if (head != null) {
                rights.add(new Right(head[0], roles(head[1]), head.length > 2 ? head[2] : null, requests));
            }
            head = line.equals("|") ? null : line.split("\\s*\\|\\s*");
            requests = new ArrayList<>();
        }
        return List.copyOf(rights);
    }

    private static Set<Role> roles(String letters) {
        Set<Role> roles = EnumSet.noneOf(Role.class);
        for (char letter : letters.toCharArray()) {
            roles.add(
                    switch (letter) {
                        case 't' -> Role.TECHNICIAN;
                        case 'e' -> Role.ENGINEER;
                        case 's' -> Role.SUPERVISOR;
                        case 'a' -> Role.AUDITOR;
                        case 'd' -> Role.ADMINISTRATOR;
                        default -> throw new IllegalStateException("no role has the letter " + letter);
                    });
        }
        return roles;
    }

    private static Map<Pattern, Right> byRequest() {
        Map<String, Right> requests = new LinkedHashMap<>();
        ALL.forEach(right -> right.requests.forEach(r -> {
            if (requests.put(r, right) != null) {
                throw new IllegalStateException(r + " stands in the table of rights twice");
            }
        }));
        Map<Pattern, Right> patterns = new LinkedHashMap<>();
        requests.entrySet().stream()
                .sorted((a, b) -> Long.compare(names(a.getKey()), names(b.getKey())))
                .forEach(e -> patterns.put(
                        Pattern.compile(e.getKey().replace(".", "\\.").replaceAll("\\{[^}]+}", "[^/]+")),
                        e.getValue()));
        return patterns;
    }

    private static long names(String request) {
        return request.chars().filter(c -> c == '{').count();
    }

    /** The row of a request; absent where it has none: then nobody may. */
    public static @Nullable Right of(String method, String path) {
        String request = (method.equals("HEAD") ? "GET" : method) + " " + path;
        return BY_REQUEST.entrySet().stream()
                .filter(e -> e.getKey().matcher(request).matches())
                .map(Map.Entry::getValue)
                .findFirst()
                .orElse(null);
    }
}
