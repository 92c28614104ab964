CREATE TABLE site (
  id serial PRIMARY KEY,
  name text NOT NULL,
  origin text NOT NULL UNIQUE,
  seeded_at timestamptz,
  created_at timestamptz NOT NULL DEFAULT now()
);

CREATE TABLE page (
  id serial PRIMARY KEY,
  site_id integer NOT NULL REFERENCES site ON DELETE CASCADE,
  name text NOT NULL,
  url text NOT NULL,
  created_at timestamptz NOT NULL DEFAULT now(),
  UNIQUE (site_id, url)
);

CREATE TABLE accepted_certificate (
  host text PRIMARY KEY,
  public_key_hash text NOT NULL,
  accepted_at timestamptz NOT NULL DEFAULT now()
);

-- Bodies are kept once, whatever captures they are in.
CREATE TABLE body (
  hash text PRIMARY KEY,
  bytes bytea NOT NULL
);

CREATE TABLE capture (
  id serial PRIMARY KEY,
  page_id integer NOT NULL REFERENCES page ON DELETE CASCADE,
  taken_at timestamptz NOT NULL,
  data jsonb NOT NULL
);
CREATE INDEX capture_page ON capture (page_id, id);

CREATE TABLE capture_body (
  capture_id integer NOT NULL REFERENCES capture ON DELETE CASCADE,
  hash text NOT NULL REFERENCES body,
  PRIMARY KEY (capture_id, hash)
);

CREATE TABLE measurement (
  id serial PRIMARY KEY,
  page_id integer NOT NULL REFERENCES page ON DELETE CASCADE,
  capture_id integer NOT NULL REFERENCES capture ON DELETE CASCADE,
  conditions_id text NOT NULL,
  taken_at timestamptz NOT NULL,
  spreads jsonb NOT NULL,
  median_run integer NOT NULL
);
CREATE INDEX measurement_page ON measurement (page_id, conditions_id, id);

CREATE TABLE run (
  id serial PRIMARY KEY,
  measurement_id integer NOT NULL REFERENCES measurement ON DELETE CASCADE,
  position integer NOT NULL,
  data jsonb NOT NULL
);

CREATE TABLE frame (
  id serial PRIMARY KEY,
  run_id integer NOT NULL REFERENCES run ON DELETE CASCADE,
  at_ms double precision NOT NULL,
  completeness double precision NOT NULL,
  image bytea NOT NULL
);

CREATE TABLE fold (
  id serial PRIMARY KEY,
  page_id integer NOT NULL REFERENCES page ON DELETE CASCADE,
  capture_id integer NOT NULL REFERENCES capture ON DELETE CASCADE,
  taken_at timestamptz NOT NULL,
  data jsonb NOT NULL
);

CREATE TABLE plan (
  page_id integer PRIMARY KEY REFERENCES page ON DELETE CASCADE,
  data jsonb NOT NULL,
  updated_at timestamptz NOT NULL DEFAULT now()
);

CREATE TABLE trial (
  id serial PRIMARY KEY,
  page_id integer NOT NULL REFERENCES page ON DELETE CASCADE,
  capture_id integer NOT NULL REFERENCES capture ON DELETE CASCADE,
  conditions_id text NOT NULL,
  taken_at timestamptz NOT NULL,
  plan jsonb NOT NULL,
  data jsonb NOT NULL
);
CREATE INDEX trial_page ON trial (page_id, conditions_id, id);

-- Pictures of fold proofs and trials, each named by what it shows.
CREATE TABLE picture (
  id serial PRIMARY KEY,
  fold_id integer REFERENCES fold ON DELETE CASCADE,
  trial_id integer REFERENCES trial ON DELETE CASCADE,
  name text NOT NULL,
  at_ms double precision,
  completeness double precision,
  mime_type text NOT NULL,
  image bytea NOT NULL
);
CREATE INDEX picture_fold ON picture (fold_id);
CREATE INDEX picture_trial ON picture (trial_id);

CREATE TABLE job (
  id serial PRIMARY KEY,
  kind text NOT NULL CHECK (kind IN ('measure', 'fold', 'trial')),
  page_id integer NOT NULL REFERENCES page ON DELETE CASCADE,
  conditions_id text NOT NULL,
  state text NOT NULL DEFAULT 'waiting'
    CHECK (state IN ('waiting', 'running', 'done', 'failed', 'cancelled', 'interrupted')),
  step text NOT NULL DEFAULT '',
  done integer NOT NULL DEFAULT 0,
  total integer NOT NULL DEFAULT 0,
  message text,
  certificate jsonb,
  cancel_asked boolean NOT NULL DEFAULT false,
  created_at timestamptz NOT NULL DEFAULT now(),
  started_at timestamptz,
  ended_at timestamptz
);
CREATE INDEX job_state ON job (state, id);
