-- What a run is carried out with: ids in their order, parted by blanks. Filled by the program when it starts.
ALTER TABLE run ADD COLUMN gear text;
INSERT INTO setting SELECT 'projection', '5' WHERE EXISTS (SELECT 1 FROM run) ON CONFLICT DO NOTHING;

-- Months to the next test, from the last one, at which the chance to find a value outside stays under the set risk; absent
-- where too little is known. Of a device the least of its points.
ALTER TABLE series_state ADD COLUMN advice integer;
ALTER TABLE asset_state ADD COLUMN advice integer;
INSERT INTO setting VALUES ('advice.risk', '0.05');
INSERT INTO condition_due (asset) SELECT asset FROM last_record ON CONFLICT DO NOTHING;

-- Devices that people keep an eye on, whatever their readings say. What was taken off stays, with who did.
CREATE TABLE watch_mark (
  id     bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  asset  text NOT NULL REFERENCES asset ON DELETE CASCADE,
  reason text NOT NULL,
  by     text NOT NULL REFERENCES person,
  at     timestamptz NOT NULL,
  off_by text REFERENCES person,
  off_at timestamptz
);
CREATE UNIQUE INDEX watch_mark_now ON watch_mark (asset) WHERE off_at IS NULL;

-- How every device stands today, for whoever asks: the register, the search, the round, the fleet. What must not be used
-- has to be acted on; what is overdue is not known any more. A state that is not of the last record yet is not used.
CREATE VIEW standing_now AS
  SELECT v.*, CASE WHEN v.barred OR v.told = 'act' THEN 'act' WHEN v.told IS NULL OR v.overdue THEN 'unknown'
      WHEN v.watched IS NOT NULL THEN 'watch' ELSE v.told END AS standing
  FROM (SELECT a.id AS asset, a.do_not_use IS NOT NULL AS barred, coalesce(x.standing, l.standing) AS told,
      a.id IN (SELECT j.asset FROM job j WHERE j.status IN ('open', 'running', 'partly done') AND j.closes < current_date)
        AS overdue, w.reason AS watched, w.by AS watched_by, w.at AS watched_at,
      l.standing AS by_record, l.run, l.at, x.why, x.margin, x.drift, x.worst_series, x.worst_lane, x.series, x.lane, x.advice, x.test_interval
    FROM asset a LEFT JOIN last_record l ON l.asset = a.id LEFT JOIN asset_state x ON x.asset = a.id AND x.run = l.run
      LEFT JOIN watch_mark w ON w.asset = a.id AND w.off_at IS NULL) v;

-- Records that people chose as what later ones are compared with. The newest choice for a device and procedure is in force;
-- the others stay, with who chose them and why.
CREATE TABLE baseline_mark (
  id        bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  asset     text NOT NULL REFERENCES asset ON DELETE CASCADE,
  procedure text NOT NULL,
  run       uuid NOT NULL REFERENCES run,
  reason    text NOT NULL,
  by        text NOT NULL REFERENCES person,
  at        timestamptz NOT NULL
);
CREATE INDEX baseline_mark_of ON baseline_mark (asset, procedure, id DESC);

CREATE FUNCTION chosen_baseline(of_asset text, of_procedure text) RETURNS uuid LANGUAGE sql STABLE AS $$
  SELECT run FROM baseline_mark WHERE asset = of_asset AND procedure = of_procedure ORDER BY id DESC LIMIT 1
$$;
-- Whether a run's record is a baseline now: the one that was chosen, else the acceptance.
CREATE FUNCTION is_baseline(of_asset text, of_procedure text, of_run uuid, accepted boolean) RETURNS boolean LANGUAGE sql STABLE AS $$
  SELECT coalesce(chosen_baseline(of_asset, of_procedure) = of_run, accepted)
$$;

CREATE FUNCTION condition_due_of_baseline() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  PERFORM device_is_due(NEW.asset);
  RETURN NULL;
END $$;
CREATE TRIGGER condition_due AFTER INSERT ON baseline_mark FOR EACH ROW EXECUTE FUNCTION condition_due_of_baseline();

-- Screens that show how devices stand are told.
CREATE TRIGGER tell_plan AFTER INSERT OR UPDATE OR DELETE ON asset_state FOR EACH STATEMENT EXECUTE FUNCTION tell_plan();
CREATE TRIGGER tell_plan AFTER INSERT OR UPDATE OR DELETE ON watch_mark FOR EACH STATEMENT EXECUTE FUNCTION tell_plan();

-- A failure in service is told like a repair, and counted against failures found at tests.
ALTER TABLE asset_event DROP CONSTRAINT asset_event_kind_check;
ALTER TABLE asset_event ADD CONSTRAINT asset_event_kind_check CHECK (kind IN ('repair', 'firmware', 'setting', 'failure'));

-- Runs that come in their thousands at once put their devices into the queue by one statement.
DROP TRIGGER condition_due ON run;
CREATE FUNCTION condition_due_of_runs() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  INSERT INTO condition_due (asset) SELECT DISTINCT asset FROM added WHERE finished_at IS NOT NULL
    ON CONFLICT (asset) DO UPDATE SET since = now();
  RETURN NULL;
END $$;
CREATE TRIGGER condition_due_of_new AFTER INSERT ON run REFERENCING NEW TABLE AS added FOR EACH STATEMENT EXECUTE FUNCTION condition_due_of_runs();
CREATE TRIGGER condition_due AFTER UPDATE OF status, verdict, complete, finished_at, sign_off, amended, baseline ON run
  FOR EACH ROW WHEN (NEW.finished_at IS NOT NULL) EXECUTE FUNCTION condition_due_of_run();
