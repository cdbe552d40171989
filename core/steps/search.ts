/** How things that can be added or set are found by what people type: one rule for steps, heads, recipes, values and cards. */

export type Searchable = {
  name: string;
  description?: string;
  /** What else it is called, or what people want to happen. */
  words?: readonly string[];
  /** Names of what is inside, such as the values of a step. */
  inside?: readonly string[];
};

const plain = (text: string) => text.trim().toLowerCase();
/** A word is found by its beginning: “sharp” finds “sharper”, and “art” does not. */
const begins = (text: string, typed: string) =>
  plain(text)
    .split(/[\s,/().-]+/)
    .some((w) => w.startsWith(typed));

/**
 * How well something fits what was typed, from 0 (its very name) to 6 (its description mentions the words); undefined where it does not fit. Of several
 * words each must be found somewhere.
 */
export function searchRank({ name, description = '', words = [], inside = [] }: Searchable, typed: string) {
  const wanted = plain(typed);
  const said = plain(name);
  const parts = wanted.split(/\s+/);
  if (said === wanted) return 0;
  if (said.startsWith(wanted)) return 1;
  if (parts.every((w) => said.includes(w))) return 2;
  // What it is called most often stands first.
  const at = words.findIndex((w) => plain(w) === wanted);
  if (at >= 0) return 3 + at / 100;
  if (words.some((w) => plain(w).startsWith(wanted) || parts.every((p) => begins(w, p)))) return 4;
  if (inside.some((v) => parts.every((p) => begins(v, p)))) return 5;
  const all = plain([name, description, ...words, ...inside].join(' '));
  return parts.every((w) => all.includes(w)) ? 6 : undefined;
}

/** What fits, the best first; what fits alike stays in its order. All of it where nothing was typed. */
export function searched<T>(items: readonly T[], typed: string, of: (item: T) => Searchable): T[] {
  if (plain(typed) === '') return [...items];
  return items
    .map((item) => ({ item, rank: searchRank(of(item), typed) }))
    .filter((found): found is { item: T; rank: number } => found.rank !== undefined)
    .sort((a, b) => a.rank - b.rank)
    .map(({ item }) => item);
}
