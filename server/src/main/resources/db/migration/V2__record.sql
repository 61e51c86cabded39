-- What the list of records is found by. Extracted from the events, like the columns before; filled by the program when it starts.
ALTER TABLE run
  ADD COLUMN procedure    text,
  ADD COLUMN title        text,
  -- Who finished the run.
  ADD COLUMN performed_by text,
  ADD COLUMN sign_off     text,
  ADD COLUMN amended      boolean NOT NULL DEFAULT false;

CREATE INDEX run_finished ON run (finished_at DESC, id DESC) WHERE status = 'finished';
CREATE INDEX run_finished_at_position ON run (position, finished_at DESC, id DESC) WHERE status = 'finished';
CREATE INDEX run_finished_by ON run (performed_by, finished_at DESC, id DESC) WHERE status = 'finished';
CREATE INDEX run_waiting ON run (sign_off, finished_at DESC, id DESC) WHERE status = 'finished' AND sign_off <> 'reviewed';
-- A part of a number, a serial or a model, as it is typed.
CREATE INDEX run_record_part ON run USING gin (record gin_trgm_ops) WHERE status = 'finished';
CREATE INDEX asset_part ON asset USING gin (serial gin_trgm_ops, model gin_trgm_ops);
-- Repairs and the like on the life of an asset.
CREATE INDEX event_adjustment ON event (run) WHERE type = 'adjustmentMade';

-- Runs that were stored before these columns have to be projected anew.
INSERT INTO setting SELECT 'projection', '1' WHERE EXISTS (SELECT 1 FROM run);
