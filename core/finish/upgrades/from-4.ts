import type { Upgrade } from './upgrade';

/** Steps may be a recipe; nothing that was there before changes. */
export const from4: Upgrade = { from: 4, upgrade: (document) => document };
