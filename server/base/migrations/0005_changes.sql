-- What changed in a shot, in the order in which it was committed: pages follow it by number and catch up after a pause.

CREATE TABLE IF NOT EXISTS shot_clock (
  shot_id INT UNSIGNED NOT NULL PRIMARY KEY,
  seq INT UNSIGNED NOT NULL DEFAULT 0
) ENGINE = InnoDB;

-- `what` and the two numbers say what to look at: it is told as it is then.
CREATE TABLE IF NOT EXISTS shot_change (
  shot_id INT UNSIGNED NOT NULL,
  seq INT UNSIGNED NOT NULL,
  what ENUM ('frame', 'shot', 'export', 'version') NOT NULL,
  -- The media, run or finish, and its frame or version.
  subject INT UNSIGNED NULL,
  part INT NULL,
  at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  PRIMARY KEY (shot_id, seq),
  KEY by_time (at)
) ENGINE = InnoDB;

-- A save asked for twice is one save.
ALTER TABLE finish_version
  ADD COLUMN IF NOT EXISTS save_id CHAR(36) NULL,
  ADD UNIQUE KEY IF NOT EXISTS one_save (finish_id, save_id);

-- A file of which some is there.
ALTER TABLE media_frame
  MODIFY COLUMN state ENUM ('ready', 'partial', 'failed') NOT NULL;

-- A frame that waits for its input is rendered once that is whole.
ALTER TABLE export_frame
  ADD COLUMN IF NOT EXISTS waits_for_input BOOLEAN NOT NULL DEFAULT FALSE;
