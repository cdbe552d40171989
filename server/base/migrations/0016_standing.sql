-- Exports that stand: their frames are finished as their files come, and again when they are written anew.
ALTER TABLE export_run ADD COLUMN IF NOT EXISTS standing BOOLEAN NOT NULL DEFAULT FALSE;
ALTER TABLE export_frame
  MODIFY COLUMN state ENUM ('waiting', 'rendering', 'done', 'failed', 'cancelled', 'expected') NOT NULL DEFAULT 'waiting',
  -- Its files have changed while it was rendered: it is rendered once more.
  ADD COLUMN IF NOT EXISTS stale BOOLEAN NOT NULL DEFAULT FALSE;
