-- A project has one name: imports at once made two of one.
UPDATE shot s JOIN project p ON p.id = s.project_id
  JOIN (SELECT name, MIN(id) AS first FROM project GROUP BY name) f ON f.name = p.name
  SET s.project_id = f.first;
DELETE p FROM project p JOIN (SELECT name, MIN(id) AS first FROM project GROUP BY name) f ON f.name = p.name
  WHERE p.id > f.first;
ALTER TABLE project ADD UNIQUE KEY IF NOT EXISTS one_name (name);
