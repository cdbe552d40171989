import * as v from 'valibot';
import { createStore, useStore } from 'zustand';
import { persist } from 'zustand/middleware';

/** How this browser's screens are laid out, whatever shot is open: kept in the browser, for all windows that open later. */

/** The board has the middle while one builds, the viewer while one looks. */
export type Arrangement = 'look' | 'build';

const strings = v.optional(v.array(v.string()), []);
const kept = v.object({
  arrangement: v.optional(v.picklist(['look', 'build']), 'look'),
  /** Sizes of panels in percent, by group and arrangement. */
  layouts: v.optional(v.record(v.string(), v.record(v.string(), v.number())), {}),
  /** The ribbon is one line. */
  ribbonFolded: v.optional(v.boolean(), false),
  /** Sections of sheets that are folded, by their names. */
  folded: strings,
  /** Rare values are shown too. */
  showsRare: v.optional(v.boolean(), false),
  /** Steps and heads that were added last, newest first. */
  recentSteps: strings,
  recentHeads: strings,
  /** Keys that were changed: the name of the command, and its keys. */
  keys: v.optional(v.record(v.string(), v.string()), {}),
});
export type Workspace = v.InferOutput<typeof kept>;

const usual: Workspace = v.parse(kept, {});

export const workspace = createStore<Workspace>()(
  persist(() => usual, {
    name: 'zafiro-workspace',
    // What an older program kept may be nothing for this one.
    merge: (found, now) => {
      const read = v.safeParse(kept, found);
      return read.success ? read.output : now;
    },
  }),
);

export const useWorkspace = <T>(part: (w: Workspace) => T): T => useStore(workspace, part);

const mostRecent = 8;
/** A list with what was used just now in front. */
export const withRecent = (recent: readonly string[], used: string): string[] =>
  [used, ...recent.filter((r) => r !== used)].slice(0, mostRecent);

/** A section is folded, or unfolded. */
export const withFolded = (folded: readonly string[], section: string): string[] =>
  folded.includes(section) ? folded.filter((f) => f !== section) : [...folded, section];
