-- What runs is told from what was interrupted by the clock; what a job needs is here, not in a file.
ALTER TABLE job ADD COLUMN lease_until timestamptz;
ALTER TABLE job DROP CONSTRAINT job_kind_check;

CREATE TABLE upload (
  id serial PRIMARY KEY,
  kept_at timestamptz NOT NULL DEFAULT now()
);
CREATE TABLE upload_part (
  upload_id integer NOT NULL REFERENCES upload ON DELETE CASCADE,
  number integer NOT NULL,
  content bytea NOT NULL,
  PRIMARY KEY (upload_id, number)
);

-- Files put aside by earlier versions are not looked for any more.
UPDATE job SET input = input - 'file' WHERE input ? 'file';
