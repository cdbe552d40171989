import { readdirSync, readFileSync } from 'node:fs';
import { dirname, join, relative, resolve } from 'node:path';
import { expect, test } from 'vitest';
import { root } from '../server/instance';

/** Each part of the house knows only those below it. */
const below: Record<string, string[]> = {
  core: [],
  engine: ['core'],
  demo: ['core', 'engine'],
  api: ['core'],
  server: ['core', 'engine', 'demo', 'api'],
  cli: ['core', 'engine'],
  browser: ['core', 'engine', 'api'],
  ui: ['core', 'browser', 'api'],
  app: ['core', 'engine', 'api', 'server', 'ui', 'browser'],
};
/** Packages the core may use: none of a host, an interface or a database. */
const corePackages = [
  'valibot',
  '@valibot/to-json-schema',
  'immer',
  'bezier-easing',
  'fflate',
  'svgpath',
  'fit-curve',
];

function files(folder: string): string[] {
  return readdirSync(folder, { withFileTypes: true }).flatMap((e) => {
    const path = join(folder, e.name);
    return e.isDirectory()
      ? files(path)
      : /\.tsx?$/.test(e.name) && !/\.test\.tsx?$/.test(e.name)
        ? [path]
        : [];
  });
}

test('imports run downwards; page and server meet in the contract alone', () => {
  const wrong: string[] = [];
  for (const [part, allowed] of Object.entries(below)) {
    for (const file of files(join(root, part))) {
      for (const [, specifier] of readFileSync(file, 'utf8').matchAll(
        /^(?:import|export)[^;]*?from '([^']+)'/gm,
      )) {
        const name = relative(root, file);
        if (!specifier.startsWith('.') && !specifier.startsWith('@/')) {
          if (part === 'core' && !corePackages.includes(specifier)) wrong.push(`${name}: ${specifier}`);
          continue;
        }
        const target = specifier.startsWith('@/')
          ? specifier.slice(2)
          : relative(root, resolve(dirname(file), specifier));
        const to = target.split('/')[0];
        if (to === part || target.endsWith('.css')) continue;
        if (!allowed.includes(to)) wrong.push(`${name}: ${specifier}`);
      }
    }
  }
  expect(wrong).toEqual([]);
});
