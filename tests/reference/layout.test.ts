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
  cli: ['core', 'engine', 'api'],
  browser: ['core', 'engine', 'api'],
  ui: ['core', 'browser', 'api'],
  app: ['core', 'engine', 'api', 'server', 'ui', 'browser'],
};
/** Inside the core each folder knows only those named here: no circle is possible. */
const insideCore: Record<string, string[]> = {
  math: [],
  picture: [],
  colour: ['math'],
  kernels: ['math', 'colour', 'picture'],
  formats: ['math', 'colour', 'picture', 'kernels'],
  optics: ['math', 'picture', 'kernels'],
  scopes: ['math', 'colour', 'picture', 'kernels', 'formats'],
  type: ['math'],
  steps: ['math', 'colour', 'picture', 'formats', 'kernels', 'optics', 'scopes', 'type'],
  time: ['math', 'colour', 'steps'],
  finish: ['math', 'picture', 'kernels', 'formats', 'steps', 'time'],
  mattes: ['math', 'colour', 'picture', 'kernels', 'formats', 'finish'],
  evaluate: ['math', 'picture', 'kernels', 'formats', 'steps', 'finish', 'mattes'],
  recipes: ['steps', 'time', 'finish'],
  advice: ['formats', 'steps', 'finish'],
};
/** Inside the server as well, from the bottom up. */
const insideServer: Record<string, string[]> = {
  base: [],
  handbook: [],
  services: ['base'],
  changes: ['base'],
  notices: ['base'],
  media: ['base', 'changes'],
  access: ['base', 'media'],
  nodes: ['base', 'changes', 'access'],
  exports: ['base', 'changes', 'media', 'nodes'],
  shots: ['base', 'changes', 'media', 'access', 'exports'],
  recipes: ['base', 'access', 'shots'],
  seed: ['base', 'shots', 'recipes'],
  events: ['base', 'changes', 'media', 'exports', 'shots'],
  http: ['base', 'access', 'nodes'],
  keep: ['base', 'services', 'changes', 'access', 'exports', 'media', 'shots'],
  programs: ['base', 'services', 'changes', 'notices', 'media', 'access', 'nodes', 'exports', 'seed', 'keep'],
};
/** Rooms whose folders may know each other freely, as long as there is no circle. */
const withoutCircles = ['browser', 'ui'];
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

/** What a file imports, however it does: with names, for its effect alone, later, or as a worker's program. */
function importsOf(source: string): string[] {
  const forms = [
    /^(?:import|export)\b[^;'"]*?from\s*['"]([^'"]+)['"]/gm,
    /^import\s*['"]([^'"]+)['"]/gm,
    /\bimport\(\s*['"]([^'"]+)['"]/g,
    /new URL\(\s*['"](\.[^'"]+)['"]\s*,\s*import\.meta\.url/g,
  ];
  return forms.flatMap((form) => [...source.matchAll(form)].map(([, specifier]) => specifier));
}

/** Where an import within the checkout leads, from the root. */
const targetOf = (file: string, specifier: string) =>
  specifier.startsWith('@/') ? specifier.slice(2) : relative(root, resolve(dirname(file), specifier));
const isOurs = (specifier: string) => specifier.startsWith('.') || specifier.startsWith('@/');

test('every form of import is seen', () => {
  const source = `import a from './a';
import { type B,
  c } from "@/c";
import './d.css';
export * from '../e';
const f = await import('./f');
new Worker(new URL('./g.ts', import.meta.url));
const text = 'from nowhere';`;
  expect(importsOf(source).sort()).toEqual(['../e', './a', './d.css', './f', './g.ts', '@/c']);
});

test('imports run downwards; page and server meet in the contract alone', () => {
  const wrong: string[] = [];
  for (const [part, allowed] of Object.entries(below))
    for (const file of files(join(root, part)))
      for (const specifier of importsOf(readFileSync(file, 'utf8'))) {
        const name = relative(root, file);
        if (!isOurs(specifier)) {
          if (part === 'core' && !corePackages.includes(specifier)) wrong.push(`${name}: ${specifier}`);
          continue;
        }
        const target = targetOf(file, specifier);
        const to = target.split('/')[0];
        // What is built lies beside the program that names it.
        if (to === part || /\.(css|mjs|wasm)$/.test(target)) continue;
        if (!allowed.includes(to)) wrong.push(`${name}: ${specifier}`);
      }
  expect(wrong).toEqual([]);
});

test.each([
  ['core', insideCore],
  ['server', insideServer],
])('folders of %s know only those below them', (room, inside) => {
  const folders = readdirSync(join(root, room), { withFileTypes: true }).filter((e) => e.isDirectory());
  expect(folders.map((e) => e.name).sort()).toEqual(Object.keys(inside).sort());
  const order = Object.keys(inside);
  for (const [folder, allowed] of Object.entries(inside))
    for (const other of allowed) expect(order.indexOf(other)).toBeLessThan(order.indexOf(folder));
  const wrong: string[] = [];
  for (const [folder, allowed] of Object.entries(inside))
    for (const file of files(join(root, room, folder)))
      for (const specifier of importsOf(readFileSync(file, 'utf8'))) {
        if (!isOurs(specifier)) continue;
        const [there, to] = targetOf(file, specifier).split('/');
        if (there === room && to !== folder && !allowed.includes(to))
          wrong.push(`${relative(root, file)}: ${specifier}`);
      }
  expect(wrong).toEqual([]);
});

/** Of what leads to what, one way from a name back to itself, if there is any. */
function circleIn(leads: Map<string, Set<string>>): string[] | undefined {
  const over = new Set<string>();
  const search = (name: string, way: string[]): string[] | undefined => {
    if (way.includes(name)) return [...way.slice(way.indexOf(name)), name];
    if (over.has(name)) return;
    for (const next of leads.get(name) ?? []) {
      const circle = search(next, [...way, name]);
      if (circle) return circle;
    }
    over.add(name);
  };
  for (const name of leads.keys()) {
    const circle = search(name, []);
    if (circle) return circle;
  }
}

test('a circle is found', () => {
  const leads = (of: Record<string, string[]>) =>
    new Map(Object.entries(of).map(([from, to]) => [from, new Set(to)]));
  expect(circleIn(leads({ a: ['b', 'c'], b: ['d'], c: ['d'], d: [] }))).toBeUndefined();
  expect(circleIn(leads({ a: ['b'], b: ['c'], c: ['d'], d: ['b'] }))).toEqual(['b', 'c', 'd', 'b']);
});

test.each(Object.keys(below))('no file of %s leads back to itself', (room) => {
  const all = new Set(files(join(root, room)));
  const leads = new Map<string, Set<string>>();
  for (const file of all) {
    const to = new Set<string>();
    for (const specifier of importsOf(readFileSync(file, 'utf8'))) {
      if (!isOurs(specifier)) continue;
      const target = join(root, targetOf(file, specifier));
      for (const path of [target, `${target}.ts`, `${target}.tsx`]) if (all.has(path)) to.add(path);
    }
    leads.set(file, to);
  }
  expect(circleIn(leads)?.map((path) => relative(root, path))).toBeUndefined();
});

test.each(withoutCircles)('no folder of %s leads back to itself', (room) => {
  const leads = new Map<string, Set<string>>();
  for (const file of files(join(root, room))) {
    const [, folder, inner] = relative(root, file).split('/');
    if (inner === undefined) continue;
    for (const specifier of importsOf(readFileSync(file, 'utf8'))) {
      if (!isOurs(specifier)) continue;
      const [there, to, rest] = targetOf(file, specifier).split('/');
      if (there !== room || rest === undefined || to === folder) continue;
      leads.set(folder, (leads.get(folder) ?? new Set()).add(to));
    }
  }
  expect(circleIn(leads)).toBeUndefined();
});

test('nobody beside the registry knows a step by its name, or by the look of its values', () => {
  const knows = /\b(spec\.id|step\.type) === '|'[a-zA-Z]+' in (\w+\.)?values\b/;
  const told = ['ui', 'browser', 'server', 'cli', 'app', 'core/evaluate']
    .flatMap((room) => files(join(root, room)))
    .filter((file) => !file.includes('.test.'))
    .flatMap((file) =>
      readFileSync(file, 'utf8')
        .split('\n')
        .filter((line) => knows.test(line))
        .map((line) => `${relative(root, file)}: ${line.trim()}`),
    );
  expect(told).toEqual([]);
});
