-- What a source had to be set to, for a type of device, to give what was wanted: the newest of each, or what a person
-- set in its place.
CREATE TABLE starting_point (
  id          bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY,
  maker       text NOT NULL,
  model       text NOT NULL,
  method      text NOT NULL,
  title       text NOT NULL,
  param       text NOT NULL,
  wanted      double precision NOT NULL,
  wanted_unit text NOT NULL,
  value       double precision NOT NULL,
  hit         double precision,
  run         uuid,
  record      text,
  kept_by     text NOT NULL,
  kept_at     timestamptz NOT NULL DEFAULT now(),
  why         text,
  UNIQUE (maker, model, method, param, wanted_unit, wanted)
);

CREATE TRIGGER touch_demo AFTER INSERT OR UPDATE OR DELETE ON starting_point FOR EACH STATEMENT EXECUTE FUNCTION touch_demo();
