-- The library of recipes. Every saved version stays; recipe.edition names the newest.
CREATE TABLE IF NOT EXISTS recipe (
  id VARCHAR(200) NOT NULL PRIMARY KEY,
  edition INT UNSIGNED NOT NULL,
  name VARCHAR(200) NOT NULL,
  created_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3)
) ENGINE = InnoDB;

-- The picture is kept beside the document, so that lists and searches do not carry it.
CREATE TABLE IF NOT EXISTS recipe_version (
  recipe_id VARCHAR(200) NOT NULL,
  edition INT UNSIGNED NOT NULL,
  note VARCHAR(1000) NOT NULL DEFAULT '',
  document JSON NOT NULL,
  picture MEDIUMBLOB NULL,
  saved_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3),
  PRIMARY KEY (recipe_id, edition),
  FOREIGN KEY (recipe_id) REFERENCES recipe (id) ON DELETE CASCADE
) ENGINE = InnoDB;
