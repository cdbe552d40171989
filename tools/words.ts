import { readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join, relative } from 'node:path';
import { pathToFileURL } from 'node:url';
import { type Node, parseSync } from 'oxc-parser';
import { nameOf } from '../ui/words/words';

/**
 * Writes ui/words/en.json, the catalogue of all texts of the screens. Run `npx tsx tools/words.ts` after a text changed; a test holds the catalogue
 * against the code, and finds texts that are not in it. Texts that stand in the catalogue by hand, plural forms, stay.
 */

const root = new URL('..', import.meta.url).pathname;
const catalogue = join(root, 'ui/words/en.json');
const plural = /_(zero|one|two|few|many|other)$/;

/** What users read or hear, among the attributes of elements and the properties of components. */
const spoken =
  /^(title|label|placeholder|alt|action|cancel|hint|summary|empty|heading|aria-(label|description|valuetext|roledescription))$/;

/** Attributes of elements that are no words. */
const silent =
  /^(className|id|type|role|href|key|d|transform|viewBox|style|keys|name|value|preserveAspectRatio|points|cancel-keys|src|data-.*)$/;

/** A word of several letters. */
const word = /\p{L}{2,}/u;
/** A sentence or a name, and not a list of classes, a path or a code. */
const sentence = /^\s*[A-Z]\p{L}*( \p{L}[\p{L}’,.…:;?!“”]*)+|^[A-Z]\p{Ll}+ …$/u;

export type Texts = {
  /** Names in the catalogue. */
  names: string[];
  /** Texts that are not taken from it, as `line: text`. */
  loose: string[];
};

type Any = Node & { [key: string]: unknown };

/** The texts of a source. */
export function textsIn(path: string, source: string): Texts {
  const names = new Set<string>();
  const loose: string[] = [];
  const { program } = parseSync(path, source);
  const say = (node: Node, text: string) =>
    loose.push(`${source.slice(0, node.start).split('\n').length}: ${text.trim().replace(/\s+/g, ' ')}`);
  const visit = (node: Any | Any[] | null | undefined): void => {
    if (Array.isArray(node)) for (const one of node) visit(one);
    if (!node || typeof node !== 'object' || Array.isArray(node)) return;
    switch (node.type) {
      case 'ImportDeclaration':
      case 'TSTypeAliasDeclaration':
      case 'TSTypeAnnotation':
        return;
      case 'TaggedTemplateExpression':
        if (node.tag.type === 'Identifier' && node.tag.name === 't') {
          names.add(nameOf(node.quasi.quasis.map((q) => q.value.cooked ?? '')));
          visit(node.quasi.expressions as Any[]);
        }
        return;
      case 'JSXText':
        if (word.test(node.value)) say(node, node.value);
        return;
      case 'JSXAttribute': {
        const name = source.slice(node.name.start, node.name.end);
        if (silent.test(name)) return;
        const value = node.value as Any | null;
        if (value?.type === 'Literal' && spoken.test(name) && word.test(String(value.value)))
          say(node, String(value.value));
        visit(value);
        return;
      }
      case 'BinaryExpression':
        if (/^[!=]==?$/.test(node.operator)) return;
        break;
      case 'Literal':
        if (typeof node.value === 'string' && sentence.test(node.value)) say(node, node.value);
        return;
      case 'TemplateLiteral': {
        const text = node.quasis.map((q) => q.value.cooked).join('…');
        if (sentence.test(text)) say(node, text);
        break;
      }
    }
    for (const [key, child] of Object.entries(node))
      if (key !== 'parent' && child && typeof child === 'object') visit(child as Any);
  };
  visit(program as unknown as Any);
  return { names: [...names], loose };
}

function sourcesIn(folder: string): string[] {
  return readdirSync(folder, { withFileTypes: true }).flatMap((e) => {
    const path = join(folder, e.name);
    if (e.isDirectory()) return path.endsWith('app/api') ? [] : sourcesIn(path);
    return /\.tsx?$/.test(e.name) && !/\.test\.|route\.ts$/.test(e.name) ? [path] : [];
  });
}

/** The texts of all screens, by file. */
export const textsOfScreens = () =>
  ['ui', 'app']
    .flatMap((folder) => sourcesIn(join(root, folder)))
    .sort()
    .map((path) => ({ path: relative(root, path), ...textsIn(path, readFileSync(path, 'utf8')) }));

/** The catalogue as it should be, with the plural forms of the one that is there. */
export function catalogueOf(now: Readonly<Record<string, string>>): Record<string, string> {
  const names = new Set(textsOfScreens().flatMap((file) => file.names));
  const plurals = Object.entries(now).filter(
    ([name]) => plural.test(name) && names.has(name.replace(plural, '')),
  );
  const all = [...[...names].map((name) => [name, name] as const), ...plurals];
  return Object.fromEntries(all.sort(([a], [b]) => (a < b ? -1 : 1)));
}

export const readCatalogue = (): Record<string, string> => JSON.parse(readFileSync(catalogue, 'utf8'));

if (import.meta.url === pathToFileURL(process.argv[1] ?? '').href)
  writeFileSync(catalogue, `${JSON.stringify(catalogueOf(readCatalogue()), null, 2)}\n`);
