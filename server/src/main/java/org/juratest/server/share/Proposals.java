package org.juratest.server.share;

import jakarta.annotation.PreDestroy;
import java.time.Clock;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.ScheduledFuture;
import java.util.concurrent.TimeUnit;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import org.juratest.core.run.Refusal;
import org.juratest.core.share.Share;
import org.juratest.core.share.ShareProblem;
import org.juratest.core.share.Sharer;
import org.juratest.formats.json.CoreJson;
import org.juratest.server.job.Decisions;
import org.juratest.server.job.Moves;
import org.juratest.server.people.People;
import org.juratest.server.plan.PlanPages;
import org.juratest.server.share.ProposalView.ProposalLeft;
import org.juratest.server.share.ProposalView.ProposalLine;
import org.juratest.server.share.ProposalView.ProposalPerson;
import org.juratest.server.web.FieldsException;
import org.juratest.server.web.NotAllowedException;
import org.juratest.server.web.NotFoundException;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.dao.DuplicateKeyException;
import org.springframework.jdbc.core.simple.JdbcClient;
import org.springframework.stereotype.Service;
import org.springframework.transaction.PlatformTransactionManager;
import org.springframework.transaction.support.TransactionTemplate;

/**
 * Proposals for sharing out open jobs. There is one at a time. Whichever process was asked works on it and writes how
 * far it is, so that every other one can show it, stop it and take it up; a process that dies leaves a proposal that
 * has failed. Nothing is moved before somebody takes it up.
 */
@Service
class Proposals {

    private static final Logger LOG = LoggerFactory.getLogger(Proposals.class);
    private static final int MOST_WEEKS = 8;
    private static final long BEAT_MILLIS = 400;
    /** A proposal that was not heard of for so long has no process any more. */
    private static final int SILENT_SECONDS = 10;

    private final JdbcClient jdbc;
    private final ShareFacts facts;
    private final PlanPages pages;
    private final Decisions decisions;
    private final Moves moves;
    private final People people;
    private final Clock clock;
    private final TransactionTemplate transaction;
    private final ExecutorService worker = Executors.newSingleThreadExecutor(r -> thread(r, "sharing-out"));
    private final ScheduledExecutorService beats =
            Executors.newSingleThreadScheduledExecutor(r -> thread(r, "sharing-out-beat"));

    Proposals(
            JdbcClient jdbc,
            ShareFacts facts,
            PlanPages pages,
            Decisions decisions,
            Moves moves,
            People people,
            Clock clock,
            PlatformTransactionManager transactions) {
        this.jdbc = jdbc;
        this.facts = facts;
        this.pages = pages;
        this.decisions = decisions;
        this.moves = moves;
        this.people = people;
        this.clock = clock;
        this.transaction = new TransactionTemplate(transactions);
    }

    /** What is worked on here; null while nothing is. */
    private volatile @Nullable Sharer sharer;

    private volatile boolean ending;

    private static Thread thread(Runnable work, String name) {
        Thread made = new Thread(work, name);
        made.setDaemon(true);
        made.setPriority(Thread.MIN_PRIORITY);
        return made;
    }

    /** A server that ends keeps the best so far of what it works on. */
    @PreDestroy
    void end() {
        ending = true;
        Sharer running = sharer;
        if (running != null) {
            running.stop();
        }
        worker.shutdown();
        beats.shutdownNow();
        try {
            worker.awaitTermination(3, TimeUnit.SECONDS);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
    }

    /** What is kept of a finished one. */
    private record Body(int travel, int travelNow, List<Line> lines, List<Left> left) {}

    private record Line(
            long job,
            LocalDate day,
            String person,
            @Nullable LocalDate wasDay,
            @Nullable String wasPerson,
            boolean fixed,
            List<String> reasons) {}

    private record Left(long job, List<String> words) {}

    private record Row(
            long id,
            String by,
            String byName,
            java.time.Instant at,
            LocalDate first,
            int days,
            String status,
            int placed,
            int asked,
            int travel,
            double seconds,
            double most,
            @Nullable String why,
            @Nullable String body) {}

    /**
     * What was taken up.
     *
     * @param act by which it is undone; absent where nothing was taken up
     * @param taken how many jobs
     * @param left those that were not, each with why
     */
    record TakenUp(@Nullable Long act, int taken, List<String> left) {}

    /**
     * Asks for a proposal from tomorrow on; a finished one that is there is thrown away for it.
     *
     * @throws Refusal if the weeks are none, or one is being worked on
     */
    ProposalView ask(int weeks, String by) {
        if (weeks < 1 || weeks > MOST_WEEKS) {
            throw new Refusal("out-of-range", "A proposal is for 1 to " + MOST_WEEKS + " weeks.", "weeks");
        }
        silent();
        LocalDate today = pages.today();
        long id;
        try {
            id = Objects.requireNonNull(transaction.execute(status -> {
                jdbc.sql("UPDATE proposal SET status = 'thrown away' WHERE status = 'ready'")
                        .update();
                return jdbc.sql("INSERT INTO proposal (by, at, first_day, days, status, beat) VALUES (:by, :at, "
                                + ":first, :days, 'working', now()) RETURNING id")
                        .param("by", by)
                        .param("at", clock.instant().atOffset(ZoneOffset.UTC))
                        .param("first", today.plusDays(1))
                        .param("days", weeks * 7)
                        .query(Long.class)
                        .single();
            }));
        } catch (DuplicateKeyException e) {
            throw new Refusal(
                    "being-worked-on", "A proposal is being worked on already. Look at it, or stop it first.", "weeks");
        }
        worker.execute(() -> work(id, today, today.plusDays(1), weeks * 7));
        return view(id);
    }

    private void work(long id, LocalDate today, LocalDate first, int days) {
        long began = System.nanoTime();
        ScheduledFuture<?> beat =
                beats.scheduleWithFixedDelay(() -> beat(id, began), 0, BEAT_MILLIS, TimeUnit.MILLISECONDS);
        try {
            ShareProblem problem = facts.problem(today, first, days);
            Sharer.Limits limits = Sharer.Limits.of(problem.jobs().size());
            jdbc.sql("UPDATE proposal SET most = :most WHERE id = :id")
                    .param("most", limits.most().toSeconds())
                    .param("id", id)
                    .update();
            Sharer own = new Sharer(problem, limits);
            sharer = own;
            if (ending) {
                own.stop();
            }
            Share share = own.share(() -> {});
            beat.cancel(false);
            done(id, problem, share, began);
        } catch (RuntimeException e) {
            beat.cancel(false);
            LOG.error("proposal {} failed", id, e);
            jdbc.sql("UPDATE proposal SET status = 'failed', why = :why WHERE id = :id AND status = 'working'")
                    .param("why", "Something went wrong while it was worked on; the server's log tells what.")
                    .param("id", id)
                    .update();
        } finally {
            sharer = null;
        }
    }

    /** Says that it is worked on and how far it is; hears whether it is to stop. */
    private void beat(long id, long began) {
        Sharer now = sharer;
        try {
            Sharer.Progress progress = now == null ? null : now.progress();
            boolean stop = jdbc.sql("UPDATE proposal SET beat = now(), seconds = :seconds, placed = :placed, "
                            + "asked = :asked, travel = :travel WHERE id = :id RETURNING stop_asked")
                    .param("seconds", (System.nanoTime() - began) / 1e9)
                    .param("placed", progress == null ? 0 : progress.placed())
                    .param("asked", progress == null ? 0 : progress.of())
                    .param("travel", progress == null ? 0 : progress.travel())
                    .param("id", id)
                    .query(Boolean.class)
                    .single();
            if (stop && now != null) {
                now.stop();
            }
        } catch (RuntimeException e) {
            LOG.warn("proposal {}: its progress could not be written: {}", id, e.getMessage());
        }
    }

    private void done(long id, ShareProblem problem, Share share, long began) {
        ShareWords words = new ShareWords(names("person", "id"), names("part", "code"));
        List<Line> lines = new ArrayList<>();
        share.placed()
                .forEach(p -> lines.add(line(
                        p.job(), p.at(), p.reasons().stream().map(words::of).toList())));
        problem.jobs().stream().filter(ShareProblem.Job::fixed).forEach(j -> lines.add(line(j, j.now(), List.of())));
        Body body = new Body(
                share.travel(),
                Share.ofToday(problem).travel(),
                lines,
                share.unplaced().stream()
                        .map(u -> new Left(
                                u.job().id(),
                                u.obstacles().stream().map(words::of).toList()))
                        .toList());
        jdbc.sql("UPDATE proposal SET status = 'ready', body = CAST(:body AS jsonb), seconds = :seconds, "
                        + "placed = :placed, asked = :asked, travel = :travel WHERE id = :id AND status = 'working'")
                .param("body", CoreJson.mapper().writeValueAsString(body))
                .param("seconds", (System.nanoTime() - began) / 1e9)
                .param("placed", share.placed().size())
                .param("asked", share.placed().size() + share.unplaced().size())
                .param("travel", share.travel())
                .param("id", id)
                .update();
    }

    private static Line line(ShareProblem.Job job, ShareProblem.@Nullable PersonDay at, List<String> reasons) {
        Objects.requireNonNull(at);
        ShareProblem.PersonDay was = job.now();
        return new Line(
                job.id(),
                at.day(),
                at.person(),
                was == null ? null : was.day(),
                was == null ? null : was.person(),
                job.fixed(),
                reasons);
    }

    private Map<String, String> names(String table, String key) {
        Map<String, String> names = new HashMap<>();
        jdbc.sql("SELECT " + key + ", name FROM " + table).query(rs -> {
            names.put(rs.getString(1), rs.getString(2));
        });
        return names;
    }

    /** Ends what has no process any more. */
    private void silent() {
        jdbc.sql("UPDATE proposal SET status = 'failed', why = 'The server that worked on it ended.' WHERE "
                        + "status = 'working' AND beat < now() - make_interval(secs => :secs)")
                .param("secs", SILENT_SECONDS)
                .update();
    }

    /** The one there is, working, ready or failed; null where none was asked for since the last was thrown away. */
    @Nullable
    ProposalView current() {
        silent();
        return jdbc.sql("SELECT id FROM proposal WHERE id = (SELECT max(id) FROM proposal) AND status <> 'thrown away'")
                .query(Long.class)
                .optional()
                .map(this::view)
                .orElse(null);
    }

    private Row row(long id) {
        return jdbc.sql("SELECT q.id, q.by, p.name, q.at, q.first_day, q.days, q.status, q.placed, q.asked, q.travel, "
                        + "q.seconds, q.most, q.why, q.body::text FROM proposal q JOIN person p ON p.id = q.by "
                        + "WHERE q.id = :id")
                .param("id", id)
                .query((rs, i) -> new Row(
                        rs.getLong(1),
                        rs.getString(2),
                        rs.getString(3),
                        rs.getTimestamp(4).toInstant(),
                        rs.getObject(5, LocalDate.class),
                        rs.getInt(6),
                        rs.getString(7),
                        rs.getInt(8),
                        rs.getInt(9),
                        rs.getInt(10),
                        rs.getDouble(11),
                        rs.getDouble(12),
                        rs.getString(13),
                        rs.getString(14)))
                .optional()
                .orElseThrow(() -> new NotFoundException("proposal", String.valueOf(id)));
    }

    private static Body body(Row row) {
        return row.body == null
                ? new Body(row.travel, 0, List.of(), List.of())
                : CoreJson.mapper().readValue(row.body, Body.class);
    }

    /** A job as it is now. */
    private record Now(
            long id,
            String position,
            String asset,
            String siteName,
            double km,
            String procedure,
            LocalDate due,
            int minutes,
            String status,
            @Nullable LocalDate day,
            @Nullable String person) {}

    private Map<Long, Now> jobs(Set<Long> ids) {
        return jdbc
                .sql(
                        """
        SELECT j.id, j.position, j.asset, s.name, s.km, j.procedure, j.due, j.minutes, j.status, j.planned_for,
          j.person FROM job j JOIN position p ON p.code = j.position JOIN site s ON s.code = p.site
        WHERE j.id = ANY (CAST(:ids AS bigint[]))""")
                .param("ids", ids.stream().map(String::valueOf).collect(Collectors.joining(",", "{", "}")))
                .query((rs, i) -> new Now(
                        rs.getLong(1),
                        rs.getString(2),
                        rs.getString(3),
                        rs.getString(4),
                        rs.getDouble(5),
                        rs.getString(6),
                        rs.getObject(7, LocalDate.class),
                        rs.getInt(8),
                        rs.getString(9),
                        rs.getObject(10, LocalDate.class),
                        rs.getString(11)))
                .list()
                .stream()
                .collect(Collectors.toMap(Now::id, n -> n));
    }

    /** A proposal beside today's plan. */
    ProposalView view(long id) {
        Row row = row(id);
        Body body = body(row);
        Set<Long> ids = new HashSet<>();
        body.lines.forEach(l -> ids.add(l.job));
        body.left.forEach(l -> ids.add(l.job));
        Map<Long, Now> now = jobs(ids);
        Map<String, String> titles = pages.titles();
        LocalDate today = pages.today();
        List<ProposalLine> lines = body.lines.stream()
                .filter(l -> now.containsKey(l.job))
                .sorted(java.util.Comparator.comparing(Line::day)
                        .thenComparing(Line::person)
                        .thenComparing(l -> now.get(l.job).km)
                        .thenComparing(l -> now.get(l.job).position)
                        .thenComparing(Line::job))
                .map(l -> line(l, Objects.requireNonNull(now.get(l.job)), titles, today))
                .toList();
        Set<String> who = lines.stream().map(ProposalLine::person).collect(Collectors.toSet());
        return new ProposalView(
                row.id,
                row.status,
                row.why,
                row.by,
                row.byName,
                row.at,
                today,
                row.first,
                row.first.plusDays(row.days - 1L),
                row.placed,
                row.asked,
                row.travel,
                body.travelNow,
                row.seconds,
                row.most,
                lines,
                body.left.stream()
                        .filter(l -> now.containsKey(l.job))
                        .map(l -> left(l, Objects.requireNonNull(now.get(l.job)), titles))
                        .toList(),
                jdbc
                        .sql("SELECT id, name, minutes_a_day FROM person WHERE role = 'technician' AND active "
                                + "ORDER BY "
                                + "name, id")
                        .query((rs, i) -> new ProposalPerson(rs.getString(1), rs.getString(2), rs.getInt(3)))
                        .list()
                        .stream()
                        .collect(Collectors.collectingAndThen(Collectors.toList(), all -> others(all, who))));
    }

    /** People with a part in it who are no technicians come last. */
    private List<ProposalPerson> others(List<ProposalPerson> technicians, Set<String> who) {
        List<ProposalPerson> all = new ArrayList<>(technicians);
        who.stream()
                .filter(w -> technicians.stream().noneMatch(t -> t.id().equals(w)))
                .sorted()
                .forEach(w -> all.add(new ProposalPerson(w, people.name(w), 0)));
        return all;
    }

    private static ProposalLine line(Line l, Now now, Map<String, String> titles, LocalDate today) {
        boolean there = l.day.equals(now.day) && l.person.equals(now.person);
        boolean asWas = Objects.equals(l.wasDay, now.day) && Objects.equals(l.wasPerson, now.person)
                || l.wasDay == null && (now.day == null || now.day.isBefore(today));
        boolean open = now.status.equals("open") || now.status.equals("partly done");
        String state = l.fixed
                ? there ? "fixed" : "changed"
                : there ? "taken" : asWas && open && l.day.isAfter(today.minusDays(1)) ? "open" : "changed";
        return new ProposalLine(
                l.job,
                now.position,
                now.asset,
                now.siteName,
                titles.getOrDefault(now.procedure, now.procedure),
                now.due,
                now.minutes,
                l.day,
                l.person,
                l.wasDay,
                l.wasPerson,
                l.reasons,
                state);
    }

    private static ProposalLeft left(Left l, Now now, Map<String, String> titles) {
        return new ProposalLeft(
                l.job,
                now.position,
                now.siteName,
                titles.getOrDefault(now.procedure, now.procedure),
                now.due,
                now.minutes,
                l.words);
    }

    /** Ends the work with the best so far. */
    ProposalView stop(long id) {
        int stopped = jdbc.sql("UPDATE proposal SET stop_asked = true WHERE id = :id AND status = 'working'")
                .param("id", id)
                .update();
        ProposalView view = view(id);
        if (stopped == 0 && !view.status().equals("ready")) {
            throw new Refusal("not-working", "Nothing is being worked on.");
        }
        return view;
    }

    /** Throws a proposal away; what was taken up of it stays. */
    void throwAway(long id) {
        row(id);
        jdbc.sql("UPDATE proposal SET status = 'thrown away', stop_asked = true WHERE id = :id")
                .param("id", id)
                .update();
    }

    /**
     * Puts jobs on the days that were proposed, as one act. What somebody decided otherwise about since is left.
     *
     * @param jobs of the proposal
     * @throws Refusal if it is not ready, or a job is none of it
     */
    TakenUp take(long id, List<Long> jobs, String by) {
        ProposalView view = view(id);
        if (!view.status().equals("ready")) {
            throw new Refusal("not-ready", "There is nothing to take up: this proposal is " + view.status() + ".");
        }
        Map<Long, ProposalLine> lines =
                view.lines().stream().collect(Collectors.toMap(ProposalLine::job, l -> l, (a, b) -> a));
        List<ProposalLine> chosen = new ArrayList<>();
        for (long job : new java.util.LinkedHashSet<>(jobs)) {
            ProposalLine line = lines.get(job);
            if (line == null) {
                throw new Refusal("unknown-job", "Job " + job + " has no day in this proposal.", "jobs");
            }
            chosen.add(line);
        }
        if (chosen.isEmpty()) {
            throw new Refusal("no-jobs", "Choose at least one job.", "jobs");
        }
        List<String> left = new ArrayList<>();
        List<ProposalLine> open = new ArrayList<>();
        chosen.forEach(l -> {
            if (l.state().equals("open")) {
                open.add(l);
            } else if (!l.state().equals("taken")) {
                left.add(l.position()
                        + (l.state().equals("fixed")
                                ? " stays where somebody put it"
                                : ": somebody decided otherwise about it since"));
            }
        });
        if (open.isEmpty()) {
            return new TakenUp(null, 0, left);
        }
        long act = moves.begin(
                open.size() == 1
                        ? open.get(0).position() + " taken up from the proposal"
                        : open.size() + " jobs taken up from the proposal",
                by);
        int taken = 0;
        for (ProposalLine l : open) {
            try {
                // Each by itself: one that was decided about in this moment keeps no other back.
                decisions.move(act, l.job(), given(l), false, by);
                taken++;
            } catch (FieldsException | Refusal | NotAllowedException e) {
                left.add(l.position() + ": " + e.getMessage());
            }
        }
        return new TakenUp(taken == 0 ? null : act, taken, left);
    }

    private Decisions.DayGiven given(ProposalLine l) {
        Now now = Objects.requireNonNull(jobs(Set.of(l.job())).get(l.job()));
        // What was left over from a day that is gone stands there still.
        boolean leftOver = l.wasDay() == null;
        return new Decisions.DayGiven(
                l.day(), l.person(), leftOver ? now.day : l.wasDay(), leftOver ? now.person : l.wasPerson());
    }
}
