-- A day that somebody gave to a job by hand stays when jobs are shared out; one taken up from a proposal may move.
ALTER TABLE job ADD COLUMN fixed boolean NOT NULL DEFAULT false;
UPDATE job SET fixed = true WHERE planned_for IS NOT NULL;

-- Moves of jobs that were one act of somebody, undone as one.
CREATE TABLE plan_act (
  id        bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  at        timestamptz NOT NULL,
  by        text NOT NULL REFERENCES person,
  words     text NOT NULL,
  undone_at timestamptz,
  undone_by text REFERENCES person
);
CREATE TABLE plan_move (
  act        bigint NOT NULL REFERENCES plan_act ON DELETE CASCADE,
  job        bigint NOT NULL REFERENCES job ON DELETE CASCADE,
  was_day    date,
  was_person text,
  was_place  integer NOT NULL,
  was_fixed  boolean NOT NULL,
  day        date,
  person     text,
  place      integer NOT NULL,
  PRIMARY KEY (act, job)
);
CREATE INDEX plan_move_job ON plan_move (job);

-- Ways to share jobs out, made by the program and taken up by people, or not.
CREATE TABLE proposal (
  id         bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  by         text NOT NULL REFERENCES person,
  at         timestamptz NOT NULL,
  first_day  date NOT NULL,
  days       integer NOT NULL CHECK (days BETWEEN 7 AND 56),
  status     text NOT NULL CHECK (status IN ('working', 'ready', 'failed', 'thrown away')),
  stop_asked boolean NOT NULL DEFAULT false,
  -- When the process that works on it was heard last, and how far it was.
  beat       timestamptz NOT NULL,
  placed     integer NOT NULL DEFAULT 0,
  asked      integer NOT NULL DEFAULT 0,
  travel     integer NOT NULL DEFAULT 0,
  seconds    double precision NOT NULL DEFAULT 0,
  -- Longest that it takes, s.
  most       double precision NOT NULL DEFAULT 24,
  why        text,
  body       jsonb
);
CREATE UNIQUE INDEX proposal_one ON proposal ((true)) WHERE status IN ('working', 'ready');
CREATE TRIGGER tell_plan AFTER INSERT OR UPDATE OR DELETE ON proposal FOR EACH STATEMENT EXECUTE FUNCTION tell_plan();

-- A demo in which somebody moved jobs, or asked for a proposal, is theirs from then on.
CREATE TRIGGER touch_demo AFTER INSERT OR UPDATE OR DELETE ON plan_act FOR EACH STATEMENT EXECUTE FUNCTION touch_demo();
CREATE TRIGGER touch_demo AFTER INSERT ON proposal FOR EACH STATEMENT EXECUTE FUNCTION touch_demo();
