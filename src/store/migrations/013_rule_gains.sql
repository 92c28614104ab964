-- What each step of a plan gained, measured one after the other.
CREATE TABLE rule_gains (
  id serial PRIMARY KEY,
  page_id integer NOT NULL REFERENCES page ON DELETE CASCADE,
  capture_id integer NOT NULL REFERENCES capture ON DELETE CASCADE,
  conditions_id text NOT NULL,
  plan jsonb NOT NULL,
  fold_hash text,
  conditions jsonb NOT NULL,
  data jsonb NOT NULL
);
CREATE INDEX rule_gains_page ON rule_gains (page_id, conditions_id, id);
