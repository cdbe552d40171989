-- Settings of the whole instance, and whether the end of an export has been told.
CREATE TABLE IF NOT EXISTS setting (
  name VARCHAR(100) NOT NULL PRIMARY KEY,
  value JSON NOT NULL
) ENGINE = InnoDB;
ALTER TABLE export_run ADD COLUMN IF NOT EXISTS noticed BOOLEAN NOT NULL DEFAULT TRUE;
ALTER TABLE export_run MODIFY COLUMN noticed BOOLEAN NOT NULL DEFAULT FALSE;
-- The queue of all shots asks this of each run.
ALTER TABLE export_frame ADD KEY IF NOT EXISTS by_run_state (run_id, state);
