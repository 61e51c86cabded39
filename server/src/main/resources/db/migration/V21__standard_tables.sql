-- Tables of standards as people keep them; a table that was never changed is the one that ships. Every revision stays.
CREATE TABLE standard_table (
  id       text NOT NULL,
  revision integer NOT NULL CHECK (revision >= 1),
  body     jsonb NOT NULL,
  retired  boolean NOT NULL DEFAULT false,
  kept_by  text NOT NULL,
  kept_at  timestamptz NOT NULL DEFAULT now(),
  PRIMARY KEY (id, revision)
);

CREATE TRIGGER touch_demo AFTER INSERT OR UPDATE OR DELETE ON standard_table FOR EACH STATEMENT EXECUTE FUNCTION touch_demo();
CREATE TRIGGER touch_demo AFTER INSERT OR UPDATE OR DELETE ON series FOR EACH STATEMENT EXECUTE FUNCTION touch_demo();
