/** A document as it was read, of whatever version. */
export type Json = Record<string, unknown>;

/**
 * One step from an earlier version of the format towards today's: makes a document of version `from` into one of version
 * `from + 1`. Pure, and never changed once it was released; stored documents of every version are opened in the tests.
 */
export type Upgrade = { from: number; upgrade(document: Json): Json };
