-- The plan of the page that is gone to, where it was tried with that as well; null where it was not.
ALTER TABLE navigation ADD COLUMN to_plan jsonb;
ALTER TABLE navigation ADD COLUMN to_fold_hash text;
