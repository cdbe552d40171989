-- Who may make projects is said for each account; who brought a recipe may take it away again.
ALTER TABLE account ADD COLUMN IF NOT EXISTS makes_projects BOOLEAN NOT NULL DEFAULT TRUE;
ALTER TABLE recipe ADD COLUMN IF NOT EXISTS account_id INT UNSIGNED NULL;

-- What is looked for at each tick.
ALTER TABLE export_run ADD INDEX IF NOT EXISTS by_moved (moved);
ALTER TABLE export_run ADD INDEX IF NOT EXISTS by_noticed (noticed);
ALTER TABLE export_run ADD INDEX IF NOT EXISTS by_movie (movie_state);
ALTER TABLE export_run ADD INDEX IF NOT EXISTS by_place (folder(200), file_name(200));

-- The shelf counts the frames of every shot from it.
ALTER TABLE media_frame ADD INDEX IF NOT EXISTS by_state (media_id, state, frame);
