-- What the table of records has of each: its columns about the record, and below each other those of its test points, both
-- as RFC 4180. Made from the events with the other fast tables; who performed it and how far it is signed stand in run and
-- person.
CREATE TABLE run_table (
  run   uuid PRIMARY KEY REFERENCES run ON DELETE CASCADE,
  about text NOT NULL,
  rows  text NOT NULL
);
