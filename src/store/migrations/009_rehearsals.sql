-- What rehearsing a plan has shown, by the hash of what went in.
CREATE TABLE rehearsal (
  page_id integer NOT NULL REFERENCES page ON DELETE CASCADE,
  key text NOT NULL,
  taken_at timestamptz NOT NULL DEFAULT now(),
  data jsonb NOT NULL,
  PRIMARY KEY (page_id, key)
);

-- Trials of before were held without rehearsing.
UPDATE trial SET data = jsonb_set(data, '{checks,rehearsal}', 'null') WHERE data -> 'checks' IS NOT NULL;

ALTER TABLE job DROP CONSTRAINT job_kind_check;
ALTER TABLE job ADD CONSTRAINT job_kind_check
  CHECK (kind IN ('measure', 'fold', 'family-fold', 'rehearse', 'trial', 'import', 'discover'));
