-- A saved version can be given a name.

ALTER TABLE finish_version
  ADD COLUMN IF NOT EXISTS label VARCHAR(200) NULL;
