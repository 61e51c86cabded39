-- What shows that something is gone or was changed, and what keeps a demo from taking people's work away.

-- One line for every run opened and every record finished, each naming the one before: a run that is taken away whole leaves a gap.
CREATE TABLE ledger (
  n     bigint PRIMARY KEY,
  run   uuid NOT NULL,
  -- opened, finished
  kind  text NOT NULL CHECK (kind IN ('opened', 'finished')),
  -- Hash of the event that says so.
  event text NOT NULL,
  prev  text,
  hash  text NOT NULL
);
CREATE INDEX ledger_of_run ON ledger (run);

-- Runs stored before there was a ledger stand in it in the order of their ids.
INSERT INTO ledger (n, run, kind, event, prev, hash)
  WITH RECURSIVE entries AS (
    SELECT row_number() OVER (ORDER BY e.at, e.run, e.n) - 1 AS n, e.run, CASE e.type WHEN 'opened' THEN 'opened' ELSE 'finished' END AS kind, e.hash AS event
    FROM event e WHERE e.type IN ('opened', 'finished')),
  chained AS (
    SELECT n, run, kind, event, NULL::text AS prev, encode(sha256(convert_to(n || ' ' || run || ' ' || kind || ' ' || event || ' ', 'UTF8')), 'hex') AS hash FROM entries WHERE n = 0
    UNION ALL
    SELECT e.n, e.run, e.kind, e.event, c.hash, encode(sha256(convert_to(e.n || ' ' || e.run || ' ' || e.kind || ' ' || e.event || ' ' || c.hash, 'UTF8')), 'hex')
    FROM chained c JOIN entries e ON e.n = c.n + 1)
  SELECT n, run, kind, event, prev, hash FROM chained;

CREATE FUNCTION enter_ledger(entered uuid, what text, event_hash text) RETURNS void LANGUAGE plpgsql AS $$
DECLARE
  last ledger%ROWTYPE;
  next bigint;
BEGIN
  -- One at a time: the chain has one end.
  PERFORM pg_advisory_xact_lock(x'4A5552414C454447'::bigint);
  SELECT * INTO last FROM ledger ORDER BY n DESC LIMIT 1;
  next := coalesce(last.n + 1, 0);
  INSERT INTO ledger VALUES (next, entered, what, event_hash, last.hash,
    encode(sha256(convert_to(next || ' ' || entered || ' ' || what || ' ' || event_hash || ' ' || coalesce(last.hash, ''), 'UTF8')), 'hex'));
END $$;

-- A demo is laid anew only while its setting "demo.untouched" stands; whatever a person writes, wherever, takes it away.
CREATE FUNCTION touch_demo() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF coalesce(current_setting('juratest.laying', true), '') <> 'on' THEN
    DELETE FROM setting WHERE key = 'demo.untouched';
  END IF;
  RETURN NULL;
END $$;
DO $$
DECLARE
  touched text;
BEGIN
  FOREACH touched IN ARRAY ARRAY['register_act', 'register_import', 'plan', 'plan_revision', 'absence', 'authorisation', 'outage', 'part', 'part_lot', 'round_tick', 'calendar_feed',
      'procedure_version', 'curve_model', 'variant', 'variant_revision', 'asset_event', 'counter_reading', 'attachment', 'gear', 'person', 'import_mapping', 'asset_class', 'extra_field', 'job_decision'] LOOP
    EXECUTE format('CREATE TRIGGER touch_demo AFTER INSERT OR UPDATE OR DELETE ON %I FOR EACH STATEMENT EXECUTE FUNCTION touch_demo()', touched);
  END LOOP;
END $$;
CREATE TRIGGER touch_demo AFTER INSERT ON run FOR EACH ROW WHEN (NOT NEW.demo) EXECUTE FUNCTION touch_demo();
CREATE TRIGGER touch_demo AFTER INSERT OR UPDATE ON setting FOR EACH ROW WHEN (NEW.key NOT LIKE 'demo.%' AND NEW.key NOT IN ('origin', 'projection')) EXECUTE FUNCTION touch_demo();
