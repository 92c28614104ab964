-- By it is known whether what the user decided for the page is still what the trial was of.
ALTER TABLE trial ADD COLUMN decided text;
