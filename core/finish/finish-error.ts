/** A finish that cannot be used: what is wrong, at which place of the document, and the remedy. */
export class FinishError extends Error {
  constructor(
    readonly problem: string,
    readonly place: string,
    readonly remedy: string,
  ) {
    super(`${problem} (${place}). ${remedy}`);
    this.name = 'FinishError';
  }
}
