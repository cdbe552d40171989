-- How frames are written, as one object; what an older run does not say has its default.
ALTER TABLE export_run ADD COLUMN IF NOT EXISTS settings JSON NULL;
UPDATE export_run SET settings = CONCAT('{"format":"', format, '","carriesFinish":', IF(carries_finish, 'true', 'false'), '}')
  WHERE settings IS NULL;
ALTER TABLE export_run DROP COLUMN IF EXISTS carries_finish;
