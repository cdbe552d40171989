-- Which recipes the newest version of a finish uses, written with it: the library then counts them without reading documents.
-- NULL where no version was saved since: those are read once more.
ALTER TABLE finish ADD COLUMN IF NOT EXISTS recipes JSON NULL;
