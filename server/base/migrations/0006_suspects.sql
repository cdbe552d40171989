-- A frame that was being rendered when its process died is suspected, and rendered alone; `deaths` counts how often that then ended.
ALTER TABLE export_frame
  ADD COLUMN IF NOT EXISTS suspect BOOLEAN NOT NULL DEFAULT FALSE,
  ADD COLUMN IF NOT EXISTS deaths TINYINT UNSIGNED NOT NULL DEFAULT 0,
  MODIFY COLUMN note TEXT NULL,
  DROP KEY IF EXISTS by_state,
  ADD KEY IF NOT EXISTS in_turn (state, suspect, run_id, frame);
