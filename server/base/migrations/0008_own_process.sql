-- Every frame is rendered in a process of its own, so none is suspected any more: what ended its process is tried again after the others.
ALTER TABLE export_frame
  DROP KEY IF EXISTS in_turn,
  DROP COLUMN IF EXISTS suspect,
  ADD KEY IF NOT EXISTS in_order (state, deaths, run_id, frame);
