/** What begins with the words that are typed comes before what has them in its name, and that before what has them in its description. */
export function nameRank(name: string, words: string): number {
  const [said, wanted] = [name.toLowerCase(), words.trim().toLowerCase()];
  if (said.startsWith(wanted)) return 0;
  return wanted.split(/\s+/).every((w) => said.includes(w)) ? 1 : 2;
}
