-- What a version's edit did is its label; what somebody called the version is its name.
ALTER TABLE finish_version CHANGE COLUMN IF EXISTS label name VARCHAR(200) NULL;
ALTER TABLE finish_version CHANGE COLUMN IF EXISTS says edit_label VARCHAR(500) NOT NULL;
