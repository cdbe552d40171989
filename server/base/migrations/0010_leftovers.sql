-- Folders of deleted shots, which are removed once the rows are gone: nothing else is ever taken for deleted.
CREATE TABLE IF NOT EXISTS leftover (
  id INT UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY,
  path VARCHAR(2000) NOT NULL
) ENGINE = InnoDB;
