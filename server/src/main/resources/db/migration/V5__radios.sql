-- Variants of procedures, and what leads take off a signal.
CREATE TABLE variant (
  code      text PRIMARY KEY,
  procedure text NOT NULL,
  name      text NOT NULL,
  revision  integer NOT NULL CHECK (revision > 0)
);
CREATE INDEX variant_of_procedure ON variant (procedure, name);

-- A revision never changes: runs name it by its hash.
CREATE TABLE variant_revision (
  variant  text NOT NULL REFERENCES variant,
  revision integer NOT NULL CHECK (revision > 0),
  hash     text NOT NULL,
  body     bytea NOT NULL,
  words    text NOT NULL,
  by       text NOT NULL,
  at       timestamptz NOT NULL DEFAULT now(),
  PRIMARY KEY (variant, revision)
);

-- Path loss of a lead with its attenuator: greatest power in W, points of MHz and dB; who characterised it and when.
ALTER TABLE gear ADD COLUMN path jsonb, ADD COLUMN path_by text, ADD COLUMN path_at timestamptz;
