import type { Upgrade } from './upgrade';

/** The link of a matte may be inverted; nothing that was there before changes. */
export const from5: Upgrade = { from: 5, upgrade: (document) => document };
