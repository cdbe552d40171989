-- Export runs, with a row per frame: these rows are the truth about what is done.

CREATE TABLE IF NOT EXISTS export_run (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  shot_id INT UNSIGNED NOT NULL,
  -- The document as it was when the export was asked for.
  document JSON NOT NULL,
  media JSON NOT NULL,
  format VARCHAR(20) NOT NULL,
  folder VARCHAR(2000) NOT NULL,
  file_name VARCHAR(300) NOT NULL,
  cancelled BOOLEAN NOT NULL DEFAULT FALSE,
  created_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  FOREIGN KEY (shot_id) REFERENCES shot (id) ON DELETE CASCADE
) ENGINE = InnoDB;

-- A frame being rendered is leased: if its process dies, the lease runs out and the frame is waiting again.
CREATE TABLE IF NOT EXISTS export_frame (
  run_id INT UNSIGNED NOT NULL,
  frame INT NOT NULL,
  state ENUM ('waiting', 'rendering', 'done', 'failed', 'cancelled') NOT NULL DEFAULT 'waiting',
  lease_until DATETIME(3) NULL,
  attempt INT UNSIGNED NOT NULL DEFAULT 0,
  note VARCHAR(2000) NULL,
  millis INT UNSIGNED NULL,
  bytes BIGINT UNSIGNED NULL,
  PRIMARY KEY (run_id, frame),
  KEY by_state (state, lease_until),
  FOREIGN KEY (run_id) REFERENCES export_run (id) ON DELETE CASCADE
) ENGINE = InnoDB;
