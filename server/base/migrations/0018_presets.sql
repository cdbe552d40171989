-- Named settings of exports.
CREATE TABLE IF NOT EXISTS export_preset (
  name VARCHAR(100) NOT NULL PRIMARY KEY,
  settings JSON NOT NULL,
  saved_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3)
) ENGINE = InnoDB;
