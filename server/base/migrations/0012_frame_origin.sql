-- Whether exported frames carry the finish that they were made by.
ALTER TABLE export_run ADD COLUMN IF NOT EXISTS carries_finish BOOLEAN NOT NULL DEFAULT TRUE;
