-- How every device stands today, for whoever asks: the register, the search, the round, the fleet. What must not be used
-- has to be acted on; what is overdue is not known any more. A state that is not of the last record yet is not used.
CREATE VIEW standing_now AS
  SELECT a.id AS asset,
    CASE WHEN a.do_not_use IS NOT NULL THEN 'act' WHEN l.standing IS NULL THEN 'unknown'
      WHEN coalesce(x.standing, l.standing) = 'act' THEN 'act' WHEN a.id IN (SELECT j.asset FROM job j
        WHERE j.status IN ('open', 'running', 'partly done') AND j.closes < current_date) THEN 'unknown'
      ELSE coalesce(x.standing, l.standing) END AS standing,
    l.standing AS by_record, l.run, l.at, x.why, x.margin, x.drift, x.worst_series, x.worst_lane, x.series, x.lane
  FROM asset a LEFT JOIN last_record l ON l.asset = a.id LEFT JOIN asset_state x ON x.asset = a.id AND x.run = l.run;

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
