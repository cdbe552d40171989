/** Classes of file errors by the possible reaction: wait for the file, for space or for time; skip it; raise a limit. */
export type FileCode =
  | 'not-found'
  | 'unknown-format'
  | 'truncated'
  | 'damaged'
  | 'deep'
  | 'too-large'
  | 'disk-full'
  | 'exhausted'
  | 'unreadable';

/** An error in a file, with the byte offset and a remedy for the user. */
export class FileError extends Error {
  constructor(
    readonly problem: string,
    readonly offset: number,
    readonly remedy = 'Render or copy the file again.',
    readonly code: FileCode = 'damaged',
  ) {
    super(`${problem} (at byte ${offset}). ${remedy}`);
    this.name = 'FileError';
  }
}

/** The file ends before it should: it may still be written, or was cut short. */
export class CutShort extends FileError {
  constructor(problem: string, offset: number) {
    super(
      problem,
      offset,
      'If it is still being written, read it again later; otherwise render it again.',
      'truncated',
    );
  }
}
