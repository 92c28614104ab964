-- What a rehearsal has found that is not through: it goes on from there when it was broken off.
CREATE TABLE found_so_far (
  page_id integer PRIMARY KEY REFERENCES page ON DELETE CASCADE,
  -- Hash of all that went in, as a rehearsal has it: what was found of something else is of no use.
  basis text NOT NULL,
  data jsonb NOT NULL
);
