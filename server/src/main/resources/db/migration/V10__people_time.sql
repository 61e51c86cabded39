-- What If-Match must say to change a person's hours or authorisations, so that nobody writes over what another entered meanwhile.
ALTER TABLE person ADD COLUMN time_revision integer NOT NULL DEFAULT 1;
