-- Curves that people brought in or made: every revision stays; the newest stands in curve_model.
CREATE TABLE curve_revision (
  id       text NOT NULL,
  revision integer NOT NULL CHECK (revision >= 1),
  body     jsonb NOT NULL,
  kept_by  text NOT NULL,
  kept_at  timestamptz NOT NULL DEFAULT now(),
  PRIMARY KEY (id, revision)
);
INSERT INTO curve_revision (id, revision, body, kept_by) SELECT id, 1, body, 'before revisions were kept' FROM curve_model;
CREATE TRIGGER touch_demo AFTER INSERT OR UPDATE OR DELETE ON curve_revision FOR EACH STATEMENT EXECUTE FUNCTION touch_demo();
