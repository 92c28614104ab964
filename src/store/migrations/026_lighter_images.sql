-- Lighter versions of a page's images: made once, and used for captures with the same styles, structure and files.
CREATE TABLE lighter_images (
  page_id integer PRIMARY KEY REFERENCES page ON DELETE CASCADE,
  -- It may be gone by now: what they were made from is in `data`.
  capture_id integer NOT NULL,
  taken_at timestamptz NOT NULL,
  data jsonb NOT NULL
);
CREATE TABLE lighter_body (
  page_id integer NOT NULL REFERENCES lighter_images ON DELETE CASCADE,
  hash text NOT NULL REFERENCES body,
  PRIMARY KEY (page_id, hash)
);
