-- How a media is read, and what is known of each of its frames.

ALTER TABLE media
  -- How numbers stand for light; what the files say, if NULL.
  ADD COLUMN IF NOT EXISTS encoding VARCHAR(20) NULL,
  -- What stands for a frame without a file.
  ADD COLUMN IF NOT EXISTS gaps ENUM ('missing', 'hold', 'empty') NOT NULL DEFAULT 'missing',
  -- Kinds of passes that somebody chose by hand, by pass name.
  ADD COLUMN IF NOT EXISTS kinds JSON NULL;

ALTER TABLE media_frame
  ADD COLUMN IF NOT EXISTS width INT UNSIGNED NULL,
  ADD COLUMN IF NOT EXISTS height INT UNSIGNED NULL;
