-- Remarks that users leave on a page's map.
CREATE TABLE footnote (
  id serial PRIMARY KEY,
  page_id integer NOT NULL REFERENCES page ON DELETE CASCADE,
  number integer NOT NULL,
  urls jsonb NOT NULL,
  at_ms double precision,
  text text NOT NULL,
  created_at timestamptz NOT NULL DEFAULT now(),
  UNIQUE (page_id, number)
);
