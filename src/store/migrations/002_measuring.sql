ALTER TABLE measurement ADD COLUMN visit text NOT NULL DEFAULT 'first' CHECK (visit IN ('first', 'return'));
ALTER TABLE measurement ADD COLUMN conditions jsonb;
ALTER TABLE measurement ADD COLUMN yardstick jsonb;
ALTER TABLE measurement ADD COLUMN quality jsonb;

-- How fast each machine is that measured here.
CREATE TABLE yardstick (
  machine text PRIMARY KEY,
  data jsonb NOT NULL
);

-- Conditions of the user's own; the built-in ones are in the code.
CREATE TABLE conditions (
  id text PRIMARY KEY,
  data jsonb NOT NULL,
  created_at timestamptz NOT NULL DEFAULT now()
);

CREATE TABLE page_setting (
  page_id integer PRIMARY KEY REFERENCES page ON DELETE CASCADE,
  runs integer NOT NULL,
  return_visits boolean NOT NULL,
  own_clock boolean NOT NULL,
  steps text NOT NULL
);

-- Headers and cookies that a user gave: apart from everything that is shown or exported.
CREATE TABLE page_secret (
  page_id integer PRIMARY KEY REFERENCES page ON DELETE CASCADE,
  data jsonb NOT NULL
);

CREATE TABLE capture_state (
  capture_id integer PRIMARY KEY REFERENCES capture ON DELETE CASCADE,
  data jsonb NOT NULL
);

ALTER TABLE page ADD COLUMN family text NOT NULL DEFAULT '';
ALTER TABLE page ADD COLUMN rank integer NOT NULL DEFAULT 0;

ALTER TABLE job ADD COLUMN rank integer NOT NULL DEFAULT 0;
ALTER TABLE job ADD COLUMN input jsonb;
ALTER TABLE job DROP CONSTRAINT job_kind_check;
ALTER TABLE job ADD CONSTRAINT job_kind_check CHECK (kind IN ('measure', 'fold', 'trial', 'import', 'discover'));
ALTER TABLE job ADD COLUMN result jsonb;
ALTER TABLE job ALTER COLUMN page_id DROP NOT NULL;
