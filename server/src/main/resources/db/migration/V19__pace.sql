-- What is looked for again and again, however many devices and runs there are.
DROP INDEX horizon_again;
CREATE INDEX horizon_again ON horizon (again_at, asset);
CREATE INDEX run_armed ON run (armed_until) WHERE output_mode = 'armed' AND status = 'open';

-- What was changed is made into JSON once a row, and not once for each column made of it; and whose act it was is what the
-- transaction began with, which need not be looked up for each row.
ALTER TABLE register_change DROP CONSTRAINT register_change_act_fkey;
CREATE OR REPLACE FUNCTION keep_change() RETURNS trigger LANGUAGE plpgsql AS $$
DECLARE
  current_act bigint := nullif(current_setting('juratest.act', true), '')::bigint;
BEGIN
  IF current_act IS NULL THEN
    RETURN NULL;
  ELSIF TG_OP = 'INSERT' THEN
    INSERT INTO register_change (act, kind, key, touches, before, after)
      SELECT current_act, TG_TABLE_NAME, r.data->>TG_ARGV[0], touched(TG_TABLE_NAME, r.data), NULL, r.data
      FROM (SELECT to_jsonb(n) - 'search' AS data FROM added n OFFSET 0) r;
  ELSIF TG_OP = 'DELETE' THEN
    INSERT INTO register_change (act, kind, key, touches, before, after)
      SELECT current_act, TG_TABLE_NAME, r.data->>TG_ARGV[0], touched(TG_TABLE_NAME, r.data), r.data, NULL
      FROM (SELECT to_jsonb(o) - 'search' AS data FROM removed o OFFSET 0) r;
  ELSE
    INSERT INTO register_change (act, kind, key, touches, before, after)
      SELECT current_act, TG_TABLE_NAME, o.key, touched(TG_TABLE_NAME, n.data), o.data, n.data
      FROM (SELECT data, data->>TG_ARGV[0] AS key FROM (SELECT to_jsonb(r) - 'search' AS data FROM removed r OFFSET 0) d
        OFFSET 0) o
      JOIN (SELECT data, data->>TG_ARGV[0] AS key FROM (SELECT to_jsonb(a) - 'search' AS data FROM added a OFFSET 0) d
        OFFSET 0) n ON o.key = n.key
      WHERE o.data <> n.data;
  END IF;
  RETURN NULL;
END $$;

-- Who needs a device or a position is looked up when it goes.
CREATE INDEX intake_on ON intake (asset) WHERE asset IS NOT NULL;
CREATE INDEX intake_file_on ON intake_file (asset) WHERE asset IS NOT NULL;
CREATE INDEX watch_mark_of ON watch_mark (asset);
CREATE INDEX outage_of ON outage (position);

-- A row that was discovered is the same at another time where it is found within a reach: what is seen of it over the years
-- is a trend like any. The fast tables are made anew for it; so are the conditions.
ALTER TABLE run_point ADD COLUMN row_reach double precision;
INSERT INTO condition_due (asset) SELECT asset FROM last_record ON CONFLICT DO NOTHING;

-- How the files of what a work order's records captured are named.
CREATE TABLE file_pattern (
  job     bigint PRIMARY KEY REFERENCES job ON DELETE CASCADE,
  pattern text NOT NULL,
  by      text NOT NULL,
  at      timestamptz NOT NULL DEFAULT now()
);
