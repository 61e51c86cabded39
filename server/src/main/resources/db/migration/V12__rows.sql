-- Rows of features are found again in later records by their key: the column is empty for points that are no rows.
ALTER TABLE run_point ADD COLUMN row_key double precision;
