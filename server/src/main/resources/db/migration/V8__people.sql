-- People: five roles, accounts that end without their history, passwords that must be changed, attempts that are slowed, and who changed what.
ALTER TABLE person
  DROP CONSTRAINT person_role_check,
  ADD CONSTRAINT person_role_check CHECK (role IN ('technician', 'engineer', 'supervisor', 'auditor', 'administrator')),
  -- Whoever has left stays by name on everything they did.
  ADD COLUMN active      boolean NOT NULL DEFAULT true,
  ADD COLUMN must_change boolean NOT NULL DEFAULT false,
  ADD COLUMN revision    integer NOT NULL DEFAULT 1;
ALTER TABLE site ADD COLUMN access_revision integer NOT NULL DEFAULT 1;
-- Whoever asked for an outage does not grant it.
ALTER TABLE outage ADD COLUMN asked_by text;
UPDATE outage SET asked_by = by WHERE state = 'asked';

-- Changes of people, authorisations, absences, access and parts. Never changed or removed.
CREATE TABLE people_change (
  id    bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  at    timestamptz NOT NULL DEFAULT clock_timestamp(),
  by    text NOT NULL,
  -- person, authorisation, absence, access, part, time, session
  kind  text NOT NULL,
  key   text NOT NULL,
  words text NOT NULL,
  -- Of a person, as they are since: what verify holds the table of people against.
  role   text,
  active boolean
);
INSERT INTO people_change (by, kind, key, words, role, active) SELECT 'installation', 'person', id, 'known as ' || role, role, active FROM person;
CREATE INDEX people_change_of ON people_change (kind, key, id DESC);
CREATE FUNCTION kept_forever() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  RAISE EXCEPTION 'what was written into % stays', TG_TABLE_NAME USING ERRCODE = 'restrict_violation';
END $$;
CREATE TRIGGER people_change_kept BEFORE UPDATE OR DELETE ON people_change FOR EACH ROW EXECUTE FUNCTION kept_forever();

-- Sign-ins and signatures that failed in a row, by person and address; person '' counts all of an address.
CREATE TABLE failed_proof (
  person  text NOT NULL,
  address text NOT NULL,
  count   integer NOT NULL,
  last_at timestamptz NOT NULL,
  next_at timestamptz NOT NULL,
  PRIMARY KEY (person, address)
);
-- Where somebody has signed in from: others' guesses from there do not slow them.
CREATE TABLE known_address (
  person  text NOT NULL REFERENCES person,
  address text NOT NULL,
  at      timestamptz NOT NULL,
  PRIMARY KEY (person, address)
);
