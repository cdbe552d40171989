-- Accounts, what they may see and do, and what was done.

CREATE TABLE IF NOT EXISTS account (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  name VARCHAR(60) NOT NULL,
  password_hash VARCHAR(200) NOT NULL,
  is_admin BOOLEAN NOT NULL DEFAULT FALSE,
  -- The secret of the second factor, and the last of its steps that was used: none counts twice.
  totp_secret VARCHAR(64) NULL,
  totp_confirmed BOOLEAN NOT NULL DEFAULT FALSE,
  totp_step BIGINT NOT NULL DEFAULT 0,
  created_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  UNIQUE KEY one_name (name)
) ENGINE = InnoDB;

-- Only hashes of what a browser holds. After a rotation the former one counts for a moment, for requests that were on their way.
CREATE TABLE IF NOT EXISTS session (
  hash CHAR(64) NOT NULL PRIMARY KEY,
  former CHAR(64) NULL,
  account_id INT UNSIGNED NOT NULL,
  address VARCHAR(60) NOT NULL,
  agent VARCHAR(200) NOT NULL,
  created_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  seen_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  rotated_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  KEY by_former (former),
  FOREIGN KEY (account_id) REFERENCES account (id) ON DELETE CASCADE
) ENGINE = InnoDB;

CREATE TABLE IF NOT EXISTS access_token (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  account_id INT UNSIGNED NOT NULL,
  name VARCHAR(100) NOT NULL,
  hash CHAR(64) NOT NULL,
  scope ENUM ('look', 'edit', 'node', 'metrics') NOT NULL,
  created_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  expires_at DATETIME(3) NOT NULL,
  used_at DATETIME(3) NULL,
  UNIQUE KEY one_hash (hash),
  FOREIGN KEY (account_id) REFERENCES account (id) ON DELETE CASCADE
) ENGINE = InnoDB;

CREATE TABLE IF NOT EXISTS membership (
  project_id INT UNSIGNED NOT NULL,
  account_id INT UNSIGNED NOT NULL,
  role ENUM ('look', 'edit', 'manage') NOT NULL,
  PRIMARY KEY (project_id, account_id),
  FOREIGN KEY (project_id) REFERENCES project (id) ON DELETE CASCADE,
  FOREIGN KEY (account_id) REFERENCES account (id) ON DELETE CASCADE
) ENGINE = InnoDB;

-- Folders that a project's frames may be read from; those of the server where there are none.
CREATE TABLE IF NOT EXISTS project_root (
  project_id INT UNSIGNED NOT NULL,
  path VARCHAR(700) NOT NULL,
  PRIMARY KEY (project_id, path),
  FOREIGN KEY (project_id) REFERENCES project (id) ON DELETE CASCADE
) ENGINE = InnoDB;

-- Who did what: it outlives accounts and what they worked on.
CREATE TABLE IF NOT EXISTS record (
  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  account_id INT UNSIGNED NULL,
  who VARCHAR(60) NOT NULL,
  address VARCHAR(60) NOT NULL,
  did VARCHAR(200) NOT NULL,
  project_id INT UNSIGNED NULL,
  subject JSON NULL,
  KEY by_project (project_id, id),
  KEY by_account (account_id, id)
) ENGINE = InnoDB;

-- Whose an upload is, and how much of it was stored.
CREATE TABLE IF NOT EXISTS upload (
  id CHAR(36) NOT NULL PRIMARY KEY,
  account_id INT UNSIGNED NULL,
  bytes BIGINT UNSIGNED NOT NULL DEFAULT 0,
  created_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  KEY by_account (account_id)
) ENGINE = InnoDB;

ALTER TABLE finish_version ADD COLUMN IF NOT EXISTS saved_by VARCHAR(60) NULL;
