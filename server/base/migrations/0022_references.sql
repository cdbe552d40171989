-- Still pictures that are looked at beside a shot.
CREATE TABLE IF NOT EXISTS reference_picture (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  shot_id INT UNSIGNED NOT NULL,
  name VARCHAR(200) NOT NULL,
  width INT UNSIGNED NOT NULL,
  height INT UNSIGNED NOT NULL,
  picture MEDIUMBLOB NOT NULL,
  FOREIGN KEY (shot_id) REFERENCES shot (id) ON DELETE CASCADE
) ENGINE = InnoDB;
