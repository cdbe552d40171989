import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import * as v from 'valibot';
import { allRoutes } from '../../api/routes';
import { FinishError } from '../../core/finish/finish-error';
import { pasteTable, rowsOfKeys, toTsv } from '../../core/finish/key-table';
import { checkFinish, openFinish, parseFinish } from '../../core/finish/validation';
import { readCdl } from '../../core/formats/cdl';
import { keptCube, packCube, readCube, unpackCube } from '../../core/formats/cube';
import { openRecipe } from '../../core/recipes/recipe';
import { shippedRecipes } from '../../demo/recipes/recipes';
import { changedJson, jumbled, type Random } from './structural';

/** Trials of what people and programs give as text: documents with tracks, recipes, tables of keys, colour files, bodies of requests. */

export type GivenTrial = { name: string; bytes?: Uint8Array; go(): boolean };

/** False where it was refused in words of its own. @throws for everything else. */
function refuses(work: () => void, isRefusal: (error: unknown) => boolean): boolean {
  try {
    work();
    return true;
  } catch (error) {
    if (isRefusal(error)) return false;
    throw error;
  }
}
const plainError = (error: unknown) => (error as Error).constructor === Error;
const finishError = (error: unknown) => error instanceof FinishError;

type Schema = { type: string; [key: string]: unknown };
const words = [
  'hall',
  'Orrery',
  '1-24',
  'exr',
  '../../etc/passwd',
  '/',
  '{shot}',
  '%00',
  "' OR 1=1 --",
  '\u202e',
  '🦋',
];

/** Something that a schema may take, mostly: by its kind alone, whatever it checks beside. */
function something(schema: Schema, random: Random, deep = 0): unknown {
  const inside = (s: unknown) => something(s as Schema, random, deep + 1);
  if (deep > 12) return null;
  switch (schema.type) {
    case 'object':
    case 'strict_object':
    case 'loose_object':
      return Object.fromEntries(
        Object.entries(schema.entries as Record<string, Schema>).map(([key, s]) => [key, inside(s)]),
      );
    case 'array':
      return Array.from({ length: random(4) }, () => inside(schema.item));
    case 'tuple':
      return (schema.items as Schema[]).map(inside);
    case 'record':
      return { [words[random(words.length)]]: inside(schema.value) };
    case 'optional':
    case 'nullable':
    case 'exact_optional':
      return random(3) ? inside(schema.wrapped) : schema.type === 'nullable' ? null : undefined;
    case 'union':
    case 'variant':
      return inside((schema.options as Schema[])[random((schema.options as Schema[]).length)]);
    case 'picklist':
      return (schema.options as unknown[])[random((schema.options as unknown[]).length)];
    case 'literal':
      return schema.literal;
    case 'number':
      return [1, 24, 0.5, -1, 1e9][random(5)];
    case 'boolean':
      return random(2) === 0;
    case 'string':
      return words[random(words.length)];
    case 'lazy':
      return null;
    default:
      return documents[random(documents.length)];
  }
}

const root = new URL('../documents', import.meta.url).pathname;
let documents: unknown[] = [];
let packed: unknown[] = [];
let tables: string[] = [];

/** Reads what is changed; `folder` holds documents of every version. */
export function prepare(folder = root): void {
  documents = readdirSync(folder, { recursive: true, encoding: 'utf8' })
    .filter((name) => name.endsWith('.json'))
    .map((name) => JSON.parse(readFileSync(join(folder, name), 'utf8')));
  packed = shippedRecipes();
  tables = documents
    .map((doc) => toTsv(rowsOfKeys(openFinish(doc).finish)))
    .filter((text) => text.includes('\n'));
}

const cubePieces = [
  'LUT_3D_SIZE 2\n',
  'LUT_1D_SIZE 4\n',
  'LUT_3D_SIZE 129\n',
  'LUT_1D_SIZE ',
  'TITLE "x"\n',
  'DOMAIN_MIN 0 0 0\n',
  'DOMAIN_MAX 1 1 1\n',
  '0 0 0\n',
  '1 0.5 0.25\n',
  '-1e30 1e30 NaN\n',
  '#',
  '\r',
  '0 0\n',
  '\u0000',
];
const cdlPieces = [
  '<ColorCorrection id="a">',
  '</ColorCorrection>',
  '<cdl:ColorCorrection>',
  '<SOPNode>',
  '<Slope>1 1 1</Slope>',
  '<Slope>',
  '</Slope>',
  '<Offset>0 0 0</Offset>',
  '<Power>1 1 1</Power>',
  '<Saturation>1</Saturation>',
  '<!--',
  '-->',
  '1e999 ',
  ' -1 ',
  '<![CDATA[',
  '&amp;',
];
const tablePieces = [
  '\t',
  ',',
  ';',
  '\n',
  'bloom',
  'amount',
  '1',
  '2.5',
  'ease',
  '"',
  'of',
  'key',
  'frame',
  '-0',
  '1e400',
  '#ff',
  '0 0',
  'layer:0',
  '__proto__',
];

const mangled = (text: string, random: Random): string => {
  let out = text;
  for (let k = 1 + random(6); k > 0; k--) {
    const at = random(out.length + 1);
    const piece = [tablePieces[random(tablePieces.length)], '', out.slice(at, at + random(40))][random(3)];
    out = out.slice(0, at) + piece + out.slice(at + random(6));
  }
  return out;
};

export function givenTrial(random: Random): GivenTrial {
  switch (random(6)) {
    case 0: {
      const doc = changedJson(documents[random(documents.length)], random);
      return {
        name: 'tracks',
        bytes: Buffer.from(JSON.stringify(doc) ?? ''),
        go: () =>
          refuses(
            () => checkFinish(openFinish(JSON.parse(JSON.stringify(doc) ?? 'null')).finish),
            finishError,
          ),
      };
    }
    case 1: {
      const recipe = changedJson(packed[random(packed.length)], random);
      return {
        name: 'recipe',
        bytes: Buffer.from(JSON.stringify(recipe) ?? ''),
        go: () =>
          refuses(
            () => void openRecipe(JSON.parse(JSON.stringify(recipe) ?? 'null'), random(2) === 0),
            finishError,
          ),
      };
    }
    case 2: {
      const text = random(3)
        ? mangled(tables[random(tables.length)], random)
        : jumbled(tablePieces, 300, random);
      const { finish } = openFinish(documents[random(documents.length)]);
      return {
        name: 'table',
        bytes: Buffer.from(text),
        // What is taken is still a finish.
        go: () => refuses(() => checkFinish(pasteTable(finish, text).apply(finish)), finishError),
      };
    }
    case 3: {
      const text = jumbled(cubePieces, 60, random);
      return {
        name: 'cube',
        bytes: Buffer.from(text),
        go: () =>
          refuses(() => {
            const kept = keptCube(readCube(text));
            if (!unpackCube(packCube(kept))) throw new TypeError('what was packed cannot be unpacked');
          }, plainError),
      };
    }
    case 4: {
      const text = jumbled(cdlPieces, 300, random);
      return {
        name: 'cdl',
        bytes: Buffer.from(text),
        go: () => refuses(() => void readCdl(text), plainError),
      };
    }
    default: {
      const route = allRoutes[random(allRoutes.length)];
      const parts = [
        v.object(route.params as v.ObjectEntries),
        v.object(route.query as v.ObjectEntries),
        route.body,
      ].filter((s) => s !== undefined);
      const schema = parts[random(parts.length)] as v.GenericSchema;
      const made = something(schema as unknown as Schema, random);
      const given = random(3) ? changedJson(made ?? {}, random) : made;
      return {
        name: `body ${route.method} ${route.path}`,
        bytes: Buffer.from(JSON.stringify(given) ?? ''),
        go() {
          const found = v.safeParse(schema, JSON.parse(JSON.stringify(given) ?? 'null'), {
            abortEarly: true,
          });
          if (({} as { polluted?: boolean }).polluted) throw new Error('prototypes are changed');
          if (!found.success) return false;
          const { document } = (found.output ?? {}) as { document?: unknown };
          return document === undefined || refuses(() => void parseFinish(document), finishError);
        },
      };
    }
  }
}
