-- What a measurement's paint waited for, in short: the list of pages tells it without reading any page. Null where it was not looked at.
ALTER TABLE measurement ADD COLUMN held jsonb;
