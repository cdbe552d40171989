import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';

/**
 * Writes docs/licences.md from package-lock.json: what Zafiro is made of, and under which licences. Run `npx tsx tools/licences.ts` after a change of the
 * lock; a test holds the file against it.
 */

const root = new URL('..', import.meta.url).pathname;

type Locked = {
  version: string;
  integrity?: string;
  resolved?: string;
  license?: string;
  dev?: boolean;
  link?: boolean;
};

/** Packages of the lock by their name, each version once. */
export function locked(): (Locked & { name: string })[] {
  const { packages } = JSON.parse(readFileSync(join(root, 'package-lock.json'), 'utf8'));
  const found = new Map<string, Locked & { name: string }>();
  for (const [path, entry] of Object.entries<Locked>(packages)) {
    if (path === '' || entry.link) continue;
    const name = path.split('node_modules/').pop()!;
    found.set(`${name}@${entry.version}`, { ...entry, name });
  }
  return [...found.values()].sort((a, b) => (a.name < b.name ? -1 : a.name > b.name ? 1 : 0));
}

export function licences(): string {
  const table = (isDev: boolean) =>
    locked()
      .filter((p) => Boolean(p.dev) === isDev)
      .map((p) => `| ${p.name} | ${p.version} | ${p.license ?? 'not said'} |`)
      .join('\n');
  return `# Licences

Zafiro itself: [LICENSE](../LICENSE). It stands on the packages below, each under its own licence, whose text is in \`node_modules/PACKAGE\`. Written by
\`npx tsx tools/licences.ts\` from the lock.

**libvips** (in the packages \`@img/sharp-libvips-…\`) is under the GNU Lesser General Public License, version 3 or later. It is a library of its own, loaded
at run time and unchanged: whoever wants another build of it puts that in its place in \`node_modules\`.

MariaDB, Redis, ffmpeg and the browsers of the tests are programs of Debian, started as processes of their own and not part of Zafiro.

## What Zafiro runs with

| Package | Version | Licence |
| --- | --- | --- |
${table(false)}

## What it is built and tested with

| Package | Version | Licence |
| --- | --- | --- |
${table(true)}
`;
}

if (import.meta.url === pathToFileURL(process.argv[1] ?? '').href)
  writeFileSync(join(root, 'docs/licences.md'), licences());
