-- Rounds of loads that were taken of something that is not finished: it goes on from them when it was broken off.
CREATE TABLE round (
  id serial PRIMARY KEY,
  page_id integer NOT NULL REFERENCES page ON DELETE CASCADE,
  conditions_id text NOT NULL,
  -- Hash of all that went in: rounds of something else are of no use.
  basis text NOT NULL,
  metrics jsonb NOT NULL
);
CREATE INDEX round_page ON round (page_id, conditions_id);
