-- What is looked for by these columns with every record and every change of the register.
CREATE INDEX IF NOT EXISTS reading_run ON reading (run);
CREATE INDEX IF NOT EXISTS register_change_of ON register_change (kind, key);

-- What a key was used for, so that it is never taken for another request. Absent for keys from before.
ALTER TABLE idempotency ADD COLUMN asked text;
