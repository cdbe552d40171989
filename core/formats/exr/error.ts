/** What is wrong with an EXR file and at which byte; `mend` says what the user can do about it. */
export class ExrError extends Error {
  constructor(
    readonly problem: string,
    readonly offset: number,
    readonly mend = 'Render or copy the file again.',
  ) {
    super(`${problem} (at byte ${offset}). ${mend}`);
    this.name = 'ExrError';
  }
}
