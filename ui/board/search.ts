/** Ranking of search results: names that begin with the query, then names that contain it, then descriptions that contain it. */
export function nameRank(name: string, words: string): number {
  const [said, wanted] = [name.toLowerCase(), words.trim().toLowerCase()];
  if (said.startsWith(wanted)) return 0;
  return wanted.split(/\s+/).every((w) => said.includes(w)) ? 1 : 2;
}
