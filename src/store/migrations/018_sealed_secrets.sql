-- What lets somebody in is stored sealed. What was stored before is sealed when the database is opened (seal-plain.ts).
ALTER TABLE page_secret ALTER COLUMN data DROP NOT NULL;
ALTER TABLE page_secret ADD COLUMN sealed bytea;
ALTER TABLE capture_state ALTER COLUMN data DROP NOT NULL;
ALTER TABLE capture_state ADD COLUMN sealed bytea;
