import type { Upgrade } from './upgrades';

/** Steps may be a recipe; nothing that was there before changes. */
export const from4: Upgrade = { from: 4, upgrade: (document) => document };
