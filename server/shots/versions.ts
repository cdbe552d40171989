import type { Version } from '../../api/finishes';

/** A row of a version as it is found. */
export type SavedVersion = Omit<Version, 'savedAt' | 'by'> & { saved_at: Date; saved_by: string | null };
export const versionOf = ({ saved_at, saved_by, ...rest }: SavedVersion): Version => ({
  ...rest,
  savedAt: saved_at.toISOString(),
  ...(saved_by === null ? {} : { by: saved_by }),
});
