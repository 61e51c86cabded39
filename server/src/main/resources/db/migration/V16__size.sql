-- Whose row of the fleet (how a device stands, and where) may have become another, by the transaction that did it. No asset:
-- anybody's. Who keeps the fleet in memory asks for what its last snapshot did not see: a sequence would not do, as a
-- transaction that began earlier may end later.
CREATE TABLE fleet_change (
  xid   xid8 NOT NULL DEFAULT pg_current_xact_id(),
  asset text
);
CREATE INDEX fleet_change_of ON fleet_change (xid, asset);

-- The argument: which column says whose. Thousands at once are anybody, told once.
CREATE FUNCTION fleet_changed() RETURNS trigger LANGUAGE plpgsql AS $$
DECLARE
  assets text[];
  rows integer;
BEGIN
  EXECUTE format('SELECT array_agg(DISTINCT %I), count(*) FROM (SELECT * FROM changed LIMIT 201) c', TG_ARGV[0])
    INTO assets, rows;
  IF rows > 0 AND NOT EXISTS (SELECT 1 FROM fleet_change WHERE xid = pg_current_xact_id() AND asset IS NULL) THEN
    INSERT INTO fleet_change (asset) SELECT unnest(CASE WHEN rows > 200 THEN ARRAY[NULL] ELSE assets END);
  END IF;
  RETURN NULL;
END $$;
CREATE FUNCTION fleet_changed_anyhow() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  INSERT INTO fleet_change (asset) VALUES (NULL);
  RETURN NULL;
END $$;

DO $$
DECLARE
  of text;
BEGIN
  FOREACH of IN ARRAY ARRAY['installation', 'job', 'last_record', 'asset_state', 'watch_mark'] LOOP
    EXECUTE format('CREATE TRIGGER fleet_new AFTER INSERT ON %I REFERENCING NEW TABLE AS changed '
      || 'FOR EACH STATEMENT EXECUTE FUNCTION fleet_changed(''asset'')', of);
    EXECUTE format('CREATE TRIGGER fleet_other AFTER UPDATE ON %I REFERENCING NEW TABLE AS changed '
      || 'FOR EACH STATEMENT EXECUTE FUNCTION fleet_changed(''asset'')', of);
    EXECUTE format('CREATE TRIGGER fleet_gone AFTER DELETE ON %I REFERENCING OLD TABLE AS changed '
      || 'FOR EACH STATEMENT EXECUTE FUNCTION fleet_changed(''asset'')', of);
    EXECUTE format('CREATE TRIGGER fleet_emptied AFTER TRUNCATE ON %I '
      || 'FOR EACH STATEMENT EXECUTE FUNCTION fleet_changed_anyhow()', of);
  END LOOP;
  -- Where nothing is installed they are no row of the fleet: what is new changes nothing.
  CREATE TRIGGER fleet_other AFTER UPDATE ON asset REFERENCING NEW TABLE AS changed
    FOR EACH STATEMENT EXECUTE FUNCTION fleet_changed('id');
  FOREACH of IN ARRAY ARRAY['asset_class', 'position', 'site'] LOOP
    EXECUTE format('CREATE TRIGGER fleet_other AFTER UPDATE ON %I FOR EACH STATEMENT EXECUTE FUNCTION fleet_changed_anyhow()', of);
  END LOOP;
END $$;

-- How many devices of a model have a test point, how many of them use up their margin, and where all but a tenth at either
-- end stand: what a device of them is held against. Made with the states of the model's devices.
CREATE TABLE peer_group (
  maker      text NOT NULL,
  model      text NOT NULL,
  procedure  text NOT NULL,
  series     text NOT NULL,
  lane       text NOT NULL,
  members    integer NOT NULL,
  drifting   integer NOT NULL,
  value_from double precision NOT NULL,
  value_to   double precision NOT NULL,
  PRIMARY KEY (maker, model, procedure, series, lane)
);
-- A device that leaves its model is one less there and one more elsewhere.
CREATE FUNCTION condition_due_of_model() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  INSERT INTO condition_due (asset)
    SELECT asset FROM last_record WHERE asset = NEW.id UNION
    (SELECT l.asset FROM last_record l JOIN asset a ON a.id = l.asset WHERE a.maker = OLD.maker AND a.model = OLD.model LIMIT 1)
    ON CONFLICT (asset) DO UPDATE SET since = now();
  IF NOT EXISTS (SELECT 1 FROM asset WHERE maker = OLD.maker AND model = OLD.model AND retired_at IS NULL) THEN
    DELETE FROM peer_group WHERE maker = OLD.maker AND model = OLD.model;
  END IF;
  RETURN NULL;
END $$;
CREATE TRIGGER condition_due AFTER UPDATE OF maker, model, retired_at ON asset FOR EACH ROW
  WHEN (OLD.maker <> NEW.maker OR OLD.model <> NEW.model OR OLD.retired_at IS DISTINCT FROM NEW.retired_at)
  EXECUTE FUNCTION condition_due_of_model();
INSERT INTO condition_due (asset) SELECT asset FROM last_record ON CONFLICT DO NOTHING;

-- What the program notes for itself is no deed of a person.
DROP TRIGGER touch_demo ON setting;
CREATE TRIGGER touch_demo AFTER INSERT OR UPDATE ON setting FOR EACH ROW
  WHEN (NEW.key NOT LIKE 'demo.%' AND NEW.key NOT IN ('origin', 'projection', 'fleet.forgotten')) EXECUTE FUNCTION touch_demo();

-- As of readings: what is made from events is written with them and compared by verify; to look for its run with each row
-- takes longer than the row.
ALTER TABLE run_point DROP CONSTRAINT run_point_run_fkey;

-- Devices that come or go in their thousands are asked for by one statement.
DROP TRIGGER condition_due ON installation;
DROP TRIGGER condition_due ON asset_event;
DROP FUNCTION condition_due_if_tested();
CREATE FUNCTION condition_due_if_tested() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  INSERT INTO condition_due (asset) SELECT DISTINCT asset FROM changed JOIN last_record USING (asset)
    ON CONFLICT (asset) DO UPDATE SET since = now();
  RETURN NULL;
END $$;
DO $$
DECLARE
  of text;
BEGIN
  FOREACH of IN ARRAY ARRAY['installation', 'asset_event'] LOOP
    EXECUTE format('CREATE TRIGGER condition_due_new AFTER INSERT ON %I REFERENCING NEW TABLE AS changed '
      || 'FOR EACH STATEMENT EXECUTE FUNCTION condition_due_if_tested()', of);
    EXECUTE format('CREATE TRIGGER condition_due_other AFTER UPDATE ON %I REFERENCING NEW TABLE AS changed '
      || 'FOR EACH STATEMENT EXECUTE FUNCTION condition_due_if_tested()', of);
    EXECUTE format('CREATE TRIGGER condition_due_gone AFTER DELETE ON %I REFERENCING OLD TABLE AS changed '
      || 'FOR EACH STATEMENT EXECUTE FUNCTION condition_due_if_tested()', of);
  END LOOP;
END $$;
