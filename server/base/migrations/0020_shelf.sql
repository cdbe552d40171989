-- What is deleted stays for a while and can be brought back; what is archived stands apart; what was opened last stands first.
ALTER TABLE project ADD COLUMN IF NOT EXISTS archived BOOLEAN NOT NULL DEFAULT FALSE,
  ADD COLUMN IF NOT EXISTS deleted_at DATETIME(3) NULL;
ALTER TABLE shot ADD COLUMN IF NOT EXISTS archived BOOLEAN NOT NULL DEFAULT FALSE,
  ADD COLUMN IF NOT EXISTS deleted_at DATETIME(3) NULL,
  ADD COLUMN IF NOT EXISTS opened_at DATETIME(3) NULL,
  ADD COLUMN IF NOT EXISTS opened_finish INT UNSIGNED NULL;
ALTER TABLE finish ADD COLUMN IF NOT EXISTS deleted_at DATETIME(3) NULL;

-- The finished picture of a finish, small, as a browser made it of one version.
CREATE TABLE IF NOT EXISTS finish_poster (
  finish_id INT UNSIGNED NOT NULL PRIMARY KEY,
  version INT UNSIGNED NOT NULL,
  picture MEDIUMBLOB NOT NULL,
  FOREIGN KEY (finish_id) REFERENCES finish (id) ON DELETE CASCADE
) ENGINE = InnoDB;
