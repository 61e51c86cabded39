-- What is tested in one go at a position, in its order; by which variant a job is begun, and by the set of which
-- position it was started, so that what is begun is gone on with, and not begun anew.
CREATE TABLE test_set (
  position   text PRIMARY KEY REFERENCES position,
  items      jsonb NOT NULL,
  version    bigint NOT NULL DEFAULT 1,
  changed_by text NOT NULL REFERENCES person,
  changed_at timestamptz NOT NULL DEFAULT now()
);

CREATE TRIGGER touch_demo AFTER INSERT OR UPDATE OR DELETE ON test_set FOR EACH STATEMENT EXECUTE FUNCTION touch_demo();

ALTER TABLE job ADD COLUMN variant text;
ALTER TABLE job ADD COLUMN of_set text REFERENCES position;
