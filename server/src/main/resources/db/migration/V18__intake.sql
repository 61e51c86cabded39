-- Files of other gear: brought in one by one, looked over, then made records of.
CREATE TABLE intake (
  id     uuid PRIMARY KEY,
  person text NOT NULL,
  -- Where they were dropped; neither: anywhere.
  asset  text REFERENCES asset,
  job    bigint REFERENCES job,
  at     timestamptz NOT NULL DEFAULT now(),
  stored timestamptz
);
CREATE TABLE intake_file (
  intake   uuid NOT NULL REFERENCES intake ON DELETE CASCADE,
  n        integer NOT NULL,
  name     text NOT NULL,
  sha256   text NOT NULL,
  -- Until they are kept as a blob, or taken away.
  bytes    bytea,
  -- What the file says, or why it cannot be read.
  told     jsonb,
  fault    text,
  asset    text REFERENCES asset,
  step     text,
  lane     text,
  -- Why nothing fits.
  why      text,
  left_out boolean NOT NULL DEFAULT false,
  PRIMARY KEY (intake, n)
);
CREATE INDEX intake_of ON intake (person, at);

-- In which runs a file already is: dropped twice it counts once.
CREATE TABLE brought_file (
  sha256 text NOT NULL,
  run    uuid NOT NULL REFERENCES run ON DELETE CASCADE,
  name   text NOT NULL,
  PRIMARY KEY (sha256, run)
);

-- What a plate calls an asset, such as the name of its cable.
CREATE INDEX asset_words ON asset USING gin (jsonb_path_query_array(nameplate -> 'texts', '$.*') jsonb_path_ops);
