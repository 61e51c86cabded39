-- Places where like devices are tested one after the other, and the number that the next one carries.
CREATE TABLE series (
  position   text PRIMARY KEY REFERENCES position,
  procedure  text NOT NULL,
  pattern    text NOT NULL,
  fields     jsonb NOT NULL,
  version    bigint NOT NULL DEFAULT 1,
  changed_by text NOT NULL REFERENCES person,
  changed_at timestamptz NOT NULL DEFAULT now()
);
