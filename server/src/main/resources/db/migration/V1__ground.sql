-- The ground: register, procedures, gear, people, jobs, runs with their events, and what is projected from them.
CREATE EXTENSION IF NOT EXISTS btree_gist;
CREATE EXTENSION IF NOT EXISTS pg_trgm;

CREATE TABLE setting (
  key   text PRIMARY KEY,
  value text NOT NULL
);
-- Which installation made an event: told apart when runs from a field laptop come home.
INSERT INTO setting VALUES ('origin', gen_random_uuid()::text);

CREATE TABLE site (
  code     text PRIMARY KEY,
  name     text NOT NULL,
  km       double precision NOT NULL,
  altitude integer NOT NULL,
  zone     text NOT NULL
);

CREATE TABLE position (
  code   text PRIMARY KEY,
  site   text NOT NULL REFERENCES site,
  family text NOT NULL
);

CREATE TABLE asset_class (
  code             text PRIMARY KEY,
  family           text NOT NULL,
  title            text NOT NULL,
  nameplate_schema jsonb NOT NULL
);

CREATE TABLE asset (
  id        text PRIMARY KEY,
  class     text NOT NULL REFERENCES asset_class,
  maker     text NOT NULL,
  model     text NOT NULL,
  serial    text NOT NULL,
  nameplate jsonb NOT NULL,
  curve     text,
  UNIQUE (maker, model, serial)
);

-- What stood where, since when: one device at a position, one position for a device, at any time.
CREATE TABLE installation (
  asset    text NOT NULL REFERENCES asset,
  position text NOT NULL REFERENCES position,
  during   tstzrange NOT NULL CHECK (NOT isempty(during)),
  EXCLUDE USING gist (position WITH =, during WITH &&),
  EXCLUDE USING gist (asset WITH =, during WITH &&)
);

CREATE TABLE person (
  id            text PRIMARY KEY,
  name          text NOT NULL,
  role          text NOT NULL CHECK (role IN ('technician', 'supervisor')),
  password_hash text NOT NULL
);

CREATE TABLE gear (
  id            text PRIMARY KEY,
  name          text NOT NULL,
  role          text NOT NULL,
  maker         text NOT NULL,
  model         text NOT NULL,
  serial        text NOT NULL,
  host          text,
  port          integer,
  calibrated_on date,
  calibrated_to date,
  certificate   text,
  accuracy      jsonb NOT NULL
);

CREATE TABLE curve_model (
  id   text PRIMARY KEY,
  body jsonb NOT NULL
);

-- A version is frozen with the hash of its canonical form; body is those bytes.
CREATE TABLE procedure_version (
  code      text NOT NULL,
  version   integer NOT NULL CHECK (version >= 1),
  title     text NOT NULL,
  hash      text NOT NULL,
  body      bytea NOT NULL,
  frozen_at timestamptz,
  PRIMARY KEY (code, version)
);

CREATE FUNCTION frozen_version() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF OLD.frozen_at IS NOT NULL AND (TG_OP = 'DELETE' OR NEW.body <> OLD.body OR NEW.hash <> OLD.hash) THEN
    RAISE EXCEPTION 'version % of % has been used and never changes', OLD.version, OLD.code USING ERRCODE = 'restrict_violation';
  END IF;
  RETURN CASE TG_OP WHEN 'DELETE' THEN OLD ELSE NEW END;
END $$;
CREATE TRIGGER procedure_version_frozen BEFORE UPDATE OR DELETE ON procedure_version
  FOR EACH ROW EXECUTE FUNCTION frozen_version();

CREATE TABLE job (
  id        bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  asset     text NOT NULL REFERENCES asset,
  position  text NOT NULL REFERENCES position,
  procedure text NOT NULL,
  reason    text NOT NULL,
  due       date NOT NULL,
  status    text NOT NULL DEFAULT 'open' CHECK (status IN ('open', 'running', 'done', 'partly done'))
);
CREATE INDEX job_open ON job (due, id) WHERE status IN ('open', 'running', 'partly done');
-- One open job of a kind for an asset, however many processes lay the round.
CREATE UNIQUE INDEX job_once ON job (asset, procedure) WHERE status IN ('open', 'running');

CREATE TABLE run (
  id            uuid PRIMARY KEY,
  job           bigint REFERENCES job,
  asset         text NOT NULL REFERENCES asset,
  position      text NOT NULL REFERENCES position,
  head          text,
  count         bigint NOT NULL DEFAULT 0,
  -- Below: extracted from the events.
  person_events bigint NOT NULL DEFAULT 0,
  status        text NOT NULL DEFAULT 'open',
  output_mode   text NOT NULL DEFAULT 'safe',
  armed_until   timestamptz,
  driver        text,
  verdict       text,
  complete      boolean,
  record        text UNIQUE,
  opened_at     timestamptz,
  finished_at   timestamptz,
  baseline      boolean NOT NULL DEFAULT false,
  -- Laid by the demo loader, not by a person.
  demo          boolean NOT NULL DEFAULT false
);
CREATE INDEX run_of_asset ON run (asset, finished_at DESC);
CREATE UNIQUE INDEX run_open_of_job ON run (job) WHERE status = 'open';
CREATE INDEX run_not_safe ON run (id) WHERE output_mode <> 'safe';

-- body is the truth: the canonical bytes that are hashed. The other columns are copies, compared by verify.
CREATE TABLE event (
  run  uuid NOT NULL REFERENCES run,
  n    bigint NOT NULL,
  id   uuid NOT NULL UNIQUE,
  prev text,
  hash text NOT NULL,
  at   timestamptz NOT NULL,
  by   text NOT NULL,
  type text NOT NULL,
  body bytea NOT NULL,
  PRIMARY KEY (run, n)
);

CREATE TABLE reading (
  at          timestamptz NOT NULL,
  run         uuid NOT NULL,
  asset       text NOT NULL,
  attempt     uuid NOT NULL,
  point       text NOT NULL,
  series      text,
  lane        text NOT NULL,
  value       double precision NOT NULL,
  unit        text NOT NULL,
  qualifier   text NOT NULL,
  uncertainty double precision,
  source      text NOT NULL,
  counts      boolean NOT NULL,
  PRIMARY KEY (at, attempt, point)
) PARTITION BY RANGE (at);
CREATE TABLE reading_other PARTITION OF reading DEFAULT;
DO $$
DECLARE y integer := extract(year FROM now())::integer;
BEGIN
  FOR i IN y - 6 .. y + 6 LOOP
    EXECUTE format('CREATE TABLE reading_%s PARTITION OF reading FOR VALUES FROM (%L) TO (%L)',
      i, make_timestamptz(i, 1, 1, 0, 0, 0, 'UTC'), make_timestamptz(i + 1, 1, 1, 0, 0, 0, 'UTC'));
  END LOOP;
END $$;
CREATE INDEX reading_trend ON reading (asset, series, lane, at);

CREATE TABLE run_point (
  run         uuid NOT NULL REFERENCES run,
  point       text NOT NULL,
  series      text,
  lane        text NOT NULL,
  label       text NOT NULL,
  required    boolean NOT NULL,
  as_found    double precision,
  as_left     double precision,
  counting    double precision,
  unit        text,
  qualifier   text,
  verdict     text NOT NULL,
  margin_used double precision,
  low         double precision,
  high        double precision,
  PRIMARY KEY (run, point)
);

CREATE TABLE last_value (
  asset  text NOT NULL REFERENCES asset,
  series text NOT NULL,
  lane   text NOT NULL,
  value  double precision NOT NULL,
  unit   text NOT NULL,
  at     timestamptz NOT NULL,
  run    uuid NOT NULL,
  PRIMARY KEY (asset, series, lane)
);

CREATE TABLE blob (
  sha256     text PRIMARY KEY,
  media_type text NOT NULL,
  bytes      bytea NOT NULL,
  stored_at  timestamptz NOT NULL DEFAULT now()
);

CREATE TABLE record_number (
  position text NOT NULL REFERENCES position,
  year     integer NOT NULL,
  last     integer NOT NULL,
  PRIMARY KEY (position, year)
);

-- Who may keep an output on: renewed by the beats of the driving screen.
CREATE TABLE run_lease (
  run    uuid PRIMARY KEY REFERENCES run,
  screen text NOT NULL,
  until  timestamptz NOT NULL
);

-- Which process talks to a run's gear.
CREATE TABLE run_claim (
  run            uuid PRIMARY KEY REFERENCES run,
  process        text NOT NULL,
  until          timestamptz NOT NULL,
  stop_requested text
);

CREATE TABLE arm_token (
  run     uuid PRIMARY KEY REFERENCES run,
  hash    text NOT NULL,
  until   timestamptz NOT NULL
);

CREATE TABLE idempotency (
  person text NOT NULL,
  key    text NOT NULL,
  run    uuid NOT NULL REFERENCES run,
  at     timestamptz NOT NULL DEFAULT now(),
  PRIMARY KEY (person, key)
);

-- Spring Session JDBC.
CREATE TABLE spring_session (
  primary_id            char(36) NOT NULL PRIMARY KEY,
  session_id            char(36) NOT NULL UNIQUE,
  creation_time         bigint NOT NULL,
  last_access_time      bigint NOT NULL,
  max_inactive_interval integer NOT NULL,
  expiry_time           bigint NOT NULL,
  principal_name        varchar(100)
);
CREATE INDEX spring_session_expiry ON spring_session (expiry_time);
CREATE INDEX spring_session_principal ON spring_session (principal_name);
CREATE TABLE spring_session_attributes (
  session_primary_id char(36) NOT NULL REFERENCES spring_session ON DELETE CASCADE,
  attribute_name     varchar(200) NOT NULL,
  attribute_bytes    bytea NOT NULL,
  PRIMARY KEY (session_primary_id, attribute_name)
);
