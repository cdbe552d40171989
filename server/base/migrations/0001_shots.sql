-- Projects, shots, media and their frames, finishes with every saved version.

CREATE TABLE IF NOT EXISTS project (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  name VARCHAR(200) NOT NULL,
  created_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3)
) ENGINE = InnoDB;

CREATE TABLE IF NOT EXISTS shot (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  project_id INT UNSIGNED NOT NULL,
  name VARCHAR(200) NOT NULL,
  first_frame INT NOT NULL,
  last_frame INT NOT NULL,
  rate DOUBLE NOT NULL,
  width INT UNSIGNED NOT NULL,
  height INT UNSIGNED NOT NULL,
  created_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  FOREIGN KEY (project_id) REFERENCES project (id) ON DELETE CASCADE
) ENGINE = InnoDB;

-- A media is referenced in place by its pattern; Zafiro never writes to it.
CREATE TABLE IF NOT EXISTS media (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  shot_id INT UNSIGNED NOT NULL,
  name VARCHAR(200) NOT NULL,
  pattern VARCHAR(2000) NOT NULL,
  first_frame INT NOT NULL,
  last_frame INT NOT NULL,
  UNIQUE KEY media_name (shot_id, name),
  FOREIGN KEY (shot_id) REFERENCES shot (id) ON DELETE CASCADE
) ENGINE = InnoDB;

-- A frame that has been looked at: ready, or failed with the reason. `content` tells one content from another.
CREATE TABLE IF NOT EXISTS media_frame (
  media_id INT UNSIGNED NOT NULL,
  frame INT NOT NULL,
  state ENUM ('ready', 'failed') NOT NULL,
  problem VARCHAR(2000) NULL,
  content CHAR(40) NOT NULL,
  bytes BIGINT UNSIGNED NOT NULL,
  modified_ms BIGINT NOT NULL,
  passes JSON NULL,
  PRIMARY KEY (media_id, frame),
  FOREIGN KEY (media_id) REFERENCES media (id) ON DELETE CASCADE
) ENGINE = InnoDB;

CREATE TABLE IF NOT EXISTS finish (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  shot_id INT UNSIGNED NOT NULL,
  name VARCHAR(200) NOT NULL,
  version INT UNSIGNED NOT NULL,
  FOREIGN KEY (shot_id) REFERENCES shot (id) ON DELETE CASCADE
) ENGINE = InnoDB;

-- Every save is a version and stays; finish.version names the newest.
CREATE TABLE IF NOT EXISTS finish_version (
  finish_id INT UNSIGNED NOT NULL,
  version INT UNSIGNED NOT NULL,
  says VARCHAR(500) NOT NULL,
  document JSON NOT NULL,
  saved_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  PRIMARY KEY (finish_id, version),
  FOREIGN KEY (finish_id) REFERENCES finish (id) ON DELETE CASCADE
) ENGINE = InnoDB;

-- What was seeded once and is not seeded again, even if the user removed it.
CREATE TABLE IF NOT EXISTS seeded (
  name VARCHAR(100) NOT NULL PRIMARY KEY,
  at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3)
) ENGINE = InnoDB;
