-- What may energise something: busy runs, screens bound to person and session, gear claimed item by item, ranges that nothing exceeds.

-- Extracted from the events: from the use of the token until the conductor has ended.
ALTER TABLE run ADD COLUMN busy boolean NOT NULL DEFAULT false;
DROP INDEX run_not_safe;
CREATE INDEX run_not_safe ON run (id) WHERE output_mode <> 'safe' OR busy;

-- A screen is named by its handle, the SHA-256 of its id; it belongs to the person and the session that took the run.
DELETE FROM run_lease;
ALTER TABLE run_lease
  ADD COLUMN person  text NOT NULL,
  ADD COLUMN session text NOT NULL;

-- One item of gear serves one run at a time, in any process.
CREATE TABLE gear_claim (
  gear    text PRIMARY KEY REFERENCES gear,
  run     uuid NOT NULL REFERENCES run,
  process text NOT NULL,
  until   timestamptz NOT NULL
);
CREATE INDEX gear_claim_of_run ON gear_claim (run);

-- Greatest value of each set-point, in the base unit, by its name.
ALTER TABLE gear ADD COLUMN range jsonb;
ALTER TABLE site ADD COLUMN range jsonb;

-- Runs that were stored before these columns have to be projected anew.
INSERT INTO setting SELECT 'projection', '3' WHERE EXISTS (SELECT 1 FROM run) ON CONFLICT DO NOTHING;
