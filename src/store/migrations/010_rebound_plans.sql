-- What became of the user's own plan when its page was captured anew; null once it was seen.
ALTER TABLE plan ADD COLUMN rebound jsonb;
