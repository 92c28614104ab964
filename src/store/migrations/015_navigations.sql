-- Ways from a page to its next one, with and without what is asked for ahead.
CREATE TABLE navigation (
  id serial PRIMARY KEY,
  page_id integer NOT NULL REFERENCES page ON DELETE CASCADE,
  to_page_id integer NOT NULL REFERENCES page ON DELETE CASCADE,
  capture_id integer NOT NULL REFERENCES capture ON DELETE CASCADE,
  to_capture_id integer NOT NULL REFERENCES capture ON DELETE CASCADE,
  conditions_id text NOT NULL,
  plan jsonb NOT NULL,
  fold_hash text,
  conditions jsonb NOT NULL,
  data jsonb NOT NULL,
  UNIQUE (page_id, to_page_id, conditions_id)
);
