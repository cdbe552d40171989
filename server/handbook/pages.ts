import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';

/** The pages of the handbook: Markdown files of the program's folder `docs/handbook`. They are read once; a page is known by its path without `.md`. */

export type HandbookPage = { path: string; title: string; text: string };

const folder = () => join(/* turbopackIgnore: true */ process.cwd(), 'docs', 'handbook');

/** The first chapters, in the order in which one reads them; all others by their names. */
const first = [
  'index',
  'frames',
  'board',
  'viewer',
  'keys',
  'mattes',
  'light',
  'air',
  'drawings',
  'time',
  'lens',
  'recipes',
  'exports',
  'machines',
  'people',
];

let known: HandbookPage[] | undefined;

export function handbookPages(): HandbookPage[] {
  if (known) return known;
  const rank = (path: string) => (first.includes(path) ? first.indexOf(path) : first.length);
  known = readdirSync(folder(), { recursive: true })
    .map(String)
    .filter((name) => name.endsWith('.md'))
    .map((name): HandbookPage => {
      const text = readFileSync(join(folder(), name), 'utf8');
      const path = name.slice(0, -3).replaceAll('\\', '/');
      return { path, title: /^# (.+)$/m.exec(text)?.[1] ?? path, text };
    })
    .sort((a, b) => rank(a.path) - rank(b.path) || a.title.localeCompare(b.title));
  return known;
}

/** A picture of the handbook; undefined for what is none. */
export function handbookPicture(path: string): Buffer | undefined {
  if (!/^[a-z0-9-]+(\/[a-z0-9-]+)*\.webp$/.test(path)) return;
  try {
    return readFileSync(join(folder(), 'pictures', path));
  } catch {
    return undefined;
  }
}
