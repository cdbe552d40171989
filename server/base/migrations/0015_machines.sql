-- Frames go to machines: where each was tried, how often it was lost with one, and what its file is. Runs wait, go first or last, and keep a record beside their frames.
CREATE TABLE IF NOT EXISTS render_node (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  name VARCHAR(100) NOT NULL,
  -- The machine of the server itself.
  is_server BOOLEAN NOT NULL DEFAULT FALSE,
  cores INT UNSIGNED NOT NULL,
  megabytes INT UNSIGNED NOT NULL,
  build VARCHAR(100) NOT NULL,
  -- Frames that it takes at a time.
  places INT UNSIGNED NOT NULL DEFAULT 1,
  draining BOOLEAN NOT NULL DEFAULT FALSE,
  removed BOOLEAN NOT NULL DEFAULT FALSE,
  joined_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  seen_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  frames_done INT UNSIGNED NOT NULL DEFAULT 0,
  millis_spent BIGINT UNSIGNED NOT NULL DEFAULT 0,
  problem TEXT NULL,
  problem_at DATETIME(3) NULL
) ENGINE = InnoDB;

ALTER TABLE export_run
  ADD COLUMN IF NOT EXISTS paused BOOLEAN NOT NULL DEFAULT FALSE,
  -- 0 goes first, 1 is usual, 2 goes last.
  ADD COLUMN IF NOT EXISTS urgency TINYINT UNSIGNED NOT NULL DEFAULT 1,
  -- Its frames are still in the order at their old place.
  ADD COLUMN IF NOT EXISTS moved BOOLEAN NOT NULL DEFAULT FALSE;

ALTER TABLE export_frame
  -- Given to Redis, which holds the order of what waits.
  ADD COLUMN IF NOT EXISTS queued BOOLEAN NOT NULL DEFAULT FALSE,
  ADD COLUMN IF NOT EXISTS losses TINYINT UNSIGNED NOT NULL DEFAULT 0,
  ADD COLUMN IF NOT EXISTS node_id INT UNSIGNED NULL,
  ADD COLUMN IF NOT EXISTS content_key CHAR(40) NULL,
  ADD COLUMN IF NOT EXISTS digest CHAR(64) NULL,
  ADD COLUMN IF NOT EXISTS ended_at DATETIME(3) NULL,
  ADD KEY IF NOT EXISTS to_queue (state, queued);
