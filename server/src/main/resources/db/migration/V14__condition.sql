-- What a trend of a test point needs beside its value, as the record judged it.
ALTER TABLE run_point
  ADD COLUMN ideal       double precision,
  ADD COLUMN scale       text,
  -- Expanded, of what counts.
  ADD COLUMN uncertainty double precision;
INSERT INTO setting SELECT 'projection', '4' WHERE EXISTS (SELECT 1 FROM run) ON CONFLICT DO NOTHING;

-- How each test point of a device stands over time, and how the device does: made from records, plans and repairs.
CREATE TABLE series_state (
  asset       text NOT NULL REFERENCES asset ON DELETE CASCADE,
  series      text NOT NULL,
  lane        text NOT NULL,
  label       text NOT NULL,
  unit        text NOT NULL,
  scale       text NOT NULL,
  procedure   text NOT NULL,
  -- The last visit.
  run         uuid NOT NULL,
  at          timestamptz NOT NULL,
  value       double precision NOT NULL,
  low         double precision,
  high        double precision,
  verdict     text NOT NULL,
  margin      double precision,
  visits      integer NOT NULL,
  -- Values in the segment that speaks, or in all that are pooled.
  n           integer NOT NULL,
  -- Margin used up in a year.
  drift       double precision,
  p           double precision,
  -- Years of 365.25 days since 1970; infinite at an open end.
  crossing    double precision,
  from_80     double precision,
  to_80       double precision,
  outlook     text,
  method      text,
  stepped     boolean NOT NULL,
  limit_moved boolean NOT NULL,
  -- Apart from its peers in the bad direction.
  outlier     boolean NOT NULL DEFAULT false,
  PRIMARY KEY (asset, series, lane)
);
CREATE INDEX series_state_peers ON series_state (procedure, series, lane, asset);

CREATE TABLE asset_state (
  asset         text PRIMARY KEY REFERENCES asset ON DELETE CASCADE,
  standing      text NOT NULL,
  why           text NOT NULL,
  -- The point with the most margin used, and the one that the reason is of.
  worst_series  text,
  worst_lane    text,
  series        text,
  lane          text,
  margin        double precision,
  drift         double precision,
  run           uuid NOT NULL,
  at            timestamptz NOT NULL,
  -- Years; absent where no plan says.
  next_test     double precision,
  test_interval double precision
);
CREATE INDEX asset_state_standing ON asset_state (standing, asset);

-- Devices whose state has to be made anew, by whichever process comes first.
CREATE TABLE condition_due (
  asset text PRIMARY KEY REFERENCES asset ON DELETE CASCADE,
  since timestamptz NOT NULL DEFAULT now()
);
CREATE INDEX condition_due_since ON condition_due (since, asset);

-- Whoever writes: a device is due with the transaction that changes what its state is made from, and with nothing else.
CREATE FUNCTION device_is_due(changed text) RETURNS void LANGUAGE sql AS $$
  INSERT INTO condition_due (asset) VALUES (changed) ON CONFLICT (asset) DO UPDATE SET since = now()
$$;
CREATE FUNCTION condition_due_of_run() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  PERFORM device_is_due(NEW.asset);
  RETURN NULL;
END $$;
CREATE TRIGGER condition_due AFTER INSERT OR UPDATE OF status, verdict, complete, finished_at, sign_off, amended, baseline ON run
  FOR EACH ROW WHEN (NEW.finished_at IS NOT NULL) EXECUTE FUNCTION condition_due_of_run();

-- A device without a record has no state; a register of thousands is laid without asking for any.
CREATE FUNCTION condition_due_if_tested() RETURNS trigger LANGUAGE plpgsql AS $$
DECLARE
  changed text := CASE TG_OP WHEN 'DELETE' THEN OLD.asset ELSE NEW.asset END;
BEGIN
  IF EXISTS (SELECT 1 FROM last_record WHERE asset = changed) THEN
    PERFORM device_is_due(changed);
  END IF;
  RETURN NULL;
END $$;
CREATE TRIGGER condition_due AFTER INSERT OR UPDATE OR DELETE ON installation FOR EACH ROW EXECUTE FUNCTION condition_due_if_tested();
CREATE TRIGGER condition_due AFTER INSERT OR UPDATE OR DELETE ON asset_event FOR EACH ROW EXECUTE FUNCTION condition_due_if_tested();

CREATE FUNCTION condition_due_of_plan() RETURNS trigger LANGUAGE plpgsql AS $$
DECLARE
  changed text := CASE TG_OP WHEN 'DELETE' THEN OLD.procedure ELSE NEW.procedure END;
BEGIN
  INSERT INTO condition_due (asset) SELECT l.asset FROM last_record l JOIN run r ON r.id = l.run WHERE r.procedure = changed
    ON CONFLICT (asset) DO UPDATE SET since = now();
  RETURN NULL;
END $$;
CREATE TRIGGER condition_due AFTER INSERT OR UPDATE OR DELETE ON plan FOR EACH ROW EXECUTE FUNCTION condition_due_of_plan();

INSERT INTO condition_due (asset) SELECT asset FROM last_record;
