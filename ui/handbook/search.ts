/** Search over the pages of the handbook. */

export type Page = { path: string; title: string; text: string };

/** What stands on a page without the marks of Markdown. */
const plain = (text: string) =>
  text
    .replace(/!\[([^\]]*)\]\([^)]*\)/g, '')
    .replace(/\[([^\]]*)\]\([^)]*\)/g, '$1')
    .replace(/^\|[-|]+\|$/gm, '')
    .replace(/[#*`|]/g, ' ')
    .replace(/\s+/g, ' ');

const wordsOf = (words: string) => words.trim().toLowerCase().split(/\s+/).filter(Boolean);

/** Pages that have every word: those with the words in their titles first, then those that say them most often. */
export function found(pages: readonly Page[], words: string): Page[] {
  const wanted = wordsOf(words);
  if (wanted.length === 0) return [];
  return pages
    .flatMap((page) => {
      const [title, text] = [page.title.toLowerCase(), plain(page.text).toLowerCase()];
      if (!wanted.every((w) => text.includes(w))) return [];
      const inTitle = wanted.filter((w) => title.includes(w)).length;
      const often = wanted.reduce((sum, w) => sum + text.split(w).length - 1, 0);
      return [{ page, rank: inTitle * 1000 + often }];
    })
    .sort((a, b) => b.rank - a.rank)
    .map(({ page }) => page);
}

/** The words about the first of those that are looked for. */
export function passageOf({ text }: Page, words: string): string {
  const all = plain(text);
  const [first = ''] = wordsOf(words);
  const at = all.toLowerCase().indexOf(first);
  const from = Math.max(0, all.lastIndexOf(' ', Math.max(0, at - 40)));
  return `${from > 0 ? '… ' : ''}${all.slice(from, from + 140).trim()} …`;
}
