-- Movies of the frames of an export, made when all of them are done.
ALTER TABLE export_run
  ADD COLUMN IF NOT EXISTS movie JSON NULL,
  ADD COLUMN IF NOT EXISTS movie_state ENUM ('waiting', 'encoding', 'done', 'failed') NULL,
  ADD COLUMN IF NOT EXISTS movie_note TEXT NULL,
  ADD COLUMN IF NOT EXISTS movie_bytes BIGINT UNSIGNED NULL;
