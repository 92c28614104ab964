-- What is decided for more than one page: for a site, or one family of its pages.
CREATE TABLE decision (
  id serial PRIMARY KEY,
  site_id integer NOT NULL REFERENCES site ON DELETE CASCADE,
  -- '' is the whole site.
  family text NOT NULL DEFAULT '',
  kind text NOT NULL,
  known_by text NOT NULL,
  what text NOT NULL,
  treatment text NOT NULL,
  why text NOT NULL DEFAULT '',
  spared jsonb NOT NULL DEFAULT '[]',
  UNIQUE (site_id, family, kind, known_by, what)
);
-- A trial of a recommended plan from before this may be of another one.
ALTER TABLE site ADD COLUMN decided_at timestamptz;
