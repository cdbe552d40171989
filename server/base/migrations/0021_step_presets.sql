-- Named values of steps, for all shots.
CREATE TABLE IF NOT EXISTS step_preset (
  step VARCHAR(60) NOT NULL,
  name VARCHAR(100) NOT NULL,
  preset JSON NOT NULL,
  saved_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  PRIMARY KEY (step, name)
) ENGINE = InnoDB;
