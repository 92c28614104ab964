-- What rehearsing found at fault is shown: the page as authored, as treated, and where they differ.
ALTER TABLE picture ADD COLUMN page_id integer;
ALTER TABLE picture ADD COLUMN rehearsal_key text;
ALTER TABLE picture ADD FOREIGN KEY (page_id, rehearsal_key) REFERENCES rehearsal ON DELETE CASCADE;
CREATE INDEX picture_rehearsal ON picture (page_id, rehearsal_key);
