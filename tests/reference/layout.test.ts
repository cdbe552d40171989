import { readdirSync, readFileSync } from 'node:fs';
import { dirname, join, relative, resolve } from 'node:path';
import { expect, test } from 'vitest';
import { root } from '../server/instance';

/** Each part of the house knows only those below it. */
const below: Record<string, string[]> = {
  core: [],
  engine: ['core'],
  demo: ['core', 'engine'],
  server: ['core', 'engine', 'demo'],
  cli: ['core', 'engine'],
  browser: ['core', 'engine'],
  ui: ['core', 'browser', 'server'],
  app: ['core', 'engine', 'server', 'ui', 'browser'],
};
/** Packages the core may use: none of a host, an interface or a database. */
const corePackages = ['valibot', 'immer', 'fflate', 'svgpath', 'fit-curve'];

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

test('imports run downwards; from the server the interface takes types alone', () => {
  const wrong: string[] = [];
  for (const [part, allowed] of Object.entries(below)) {
    for (const file of files(join(root, part))) {
      for (const [line, specifier] of readFileSync(file, 'utf8').matchAll(
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
        const typeOnly = /^import type/.test(line);
        if (!allowed.includes(to) || (part === 'ui' && to === 'server' && !typeOnly))
          wrong.push(`${name}: ${specifier}`);
      }
    }
  }
  expect(wrong).toEqual([]);
});
