import { readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join, relative } from 'node:path';
import { pathToFileURL } from 'node:url';
import { gapRules } from '../core/formats/gap-rules';
import { steps } from '../core/steps/registry';
import {
  kindsOf,
  type NumberSpec,
  type StepSpec,
  sections,
  stages,
  type ValueSpec,
} from '../core/steps/shared/define';
import { interpolations } from '../core/time/keys';
import { modulatorNames, waveForms } from '../core/time/modulators';
import { textsOfScreens } from './words';

/**
 * Writes docs/glossary.md: every word of the interface, from the declarations of the steps and the texts of the components. Run
 * `node_modules/.bin/tsx tools/glossary.ts` after a change of a label; a test holds the file against it.
 */

const root = new URL('..', import.meta.url).pathname;
const cell = (text: string) => text.replaceAll('|', '\\|');

const units: Record<NumberSpec['unit'], string> = {
  px: 'px',
  light: 'luminance',
  ratio: '',
  degrees: '°',
  scene: 'scene units',
};

/** Domain of a value: unit, range, default, options or columns. */
function rangeOf(spec: ValueSpec): string {
  switch (spec.type) {
    case 'number': {
      const unit = units[spec.unit] ? ` ${units[spec.unit]}` : '';
      const zero = spec.zeroLabel ? `, 0 is ${spec.zeroLabel}` : '';
      return `${spec.from} to ${spec.to}${unit}${spec.whole ? ', whole' : ''}${zero}; ${spec.default}`;
    }
    case 'choice':
      return Object.entries(spec.options)
        .map(([key, name]) => (key === spec.default ? `*${name}*` : name))
        .join(', ');
    case 'toggle':
      return `on or off; ${spec.default ? 'on' : 'off'}`;
    case 'colour':
      return `colour, linear; ${spec.default.join(' ')}`;
    case 'colours':
      return `1 to ${spec.most} colours`;
    case 'path':
      return 'points of a closed path';
    case 'text':
      return `up to ${spec.longest} letters`;
    case 'rows':
      return `up to ${spec.most} rows of ${Object.values(spec.columns)
        .map((c) => c.name)
        .join(', ')}`;
  }
}

function stepText(spec: StepSpec): string[] {
  const carries = spec.produces ? ` → ${spec.produces}` : '';
  const lines = [
    `### ${spec.name} \`${spec.id}\``,
    '',
    `${spec.description} Accepts ${kindsOf(spec).join(', ')}${carries}.`,
    '',
    '| | key | name | what it does | range; default |',
    '|---|---|---|---|---|',
  ];
  for (const [key, slot] of Object.entries(spec.slots))
    lines.push(`| slot | \`${key}\` | ${slot.name} | ${cell(slot.description)} | ${slot.kind} |`);
  for (const [key, value] of Object.entries(spec.values))
    lines.push(
      `| ${value.section} | \`${key}\` | ${value.name} | ${cell(value.description)} | ${cell(rangeOf(value))} |`,
    );
  return [...lines, ''];
}

/** A literal's text: what is put in is an ellipsis. */
const plain = (literal: string) =>
  literal
    .slice(1, -1)
    .replace(/\$\{(?:[^{}]|\{[^{}]*\})*\}/g, '…')
    .replace(/\\'/g, '’')
    .replace(/\s+/g, ' ');
const literal = /(?:'(?:[^'\\\n]|\\.)*'|`[^`]*`)/.source;

/** Texts of advice and errors with their remedies, by file. */
function messagesOf(source: string): string[] {
  const found: string[] = [];
  for (const [, text] of source.matchAll(new RegExp(`\\b(?:title|remedy|message):\\s*(${literal})`, 'g')))
    found.push(plain(text));
  // Codes and places are no sentences.
  for (const [, given] of source.matchAll(
    /new (?:FinishError|FileError|CutShort|MediaError|Refused|BadRequest|NotFound|LaunchError|UsageError)\(([\s\S]*?)\);/g,
  ))
    for (const [text] of given.matchAll(new RegExp(literal, 'g')))
      if (/ /.test(text)) found.push(plain(text));
  return [...new Set(found)];
}

function sources(folder: string): string[] {
  return readdirSync(folder, { withFileTypes: true })
    .sort((a, b) => (a.name < b.name ? -1 : 1))
    .flatMap((e) => {
      const path = join(folder, e.name);
      if (e.isDirectory()) return e.name === 'assembly' ? [] : sources(path);
      return /\.ts$/.test(e.name) && !/\.test\.ts$/.test(e.name) ? [path] : [];
    });
}

/** The text of docs/glossary.md. */
export function glossary(): string {
  const lines = [
    '# Glossary of the interface',
    '',
    'Written by `tools/glossary.ts` from the declarations of the steps and the components: every name on the screen, what it does, its unit and range.',
    'In a range the default stands last, of choices in italics.',
    '',
    '## Words',
    '',
    `- Stages, in the usual order of steps: ${stages.map((s) => s[0].toUpperCase() + s.slice(1)).join(', ')}.`,
    `- Sections of a step: ${Object.entries(sections)
      .map(([name, question]) => `${name[0].toUpperCase()}${name.slice(1)} (${question})`)
      .join(', ')}.`,
    `- Interpolation of keys: ${Object.values(interpolations).join(', ')}.`,
    `- Modulators: ${Object.values(modulatorNames).join(', ')}. Forms of a wave: ${Object.values(waveForms).join(', ')}.`,
    `- Missing frames: ${Object.values(gapRules).join(', ')}.`,
    '',
  ];
  for (const stage of stages) {
    lines.push(`## ${stage[0].toUpperCase()}${stage.slice(1)}`, '');
    for (const spec of steps) if (spec.stage === stage) lines.push(...stepText(spec));
  }
  lines.push('## Screens', '', '| component | texts |', '|---|---|');
  for (const { path, names } of textsOfScreens()) {
    const texts = names.map((name) => name.trim().replace(/\{\{\d+\}\}/g, '…'));
    if (texts.length > 0) lines.push(`| \`${path}\` | ${cell(texts.join(' · '))} |`);
  }
  lines.push('', '## Advice and errors', '', '| file | texts |', '|---|---|');
  for (const part of ['core', 'engine', 'server', 'cli'])
    for (const path of sources(join(root, part))) {
      const texts = messagesOf(readFileSync(path, 'utf8'));
      if (texts.length > 0) lines.push(`| \`${relative(root, path)}\` | ${cell(texts.join(' · '))} |`);
    }
  return `${lines.join('\n')}\n`;
}

if (import.meta.url === pathToFileURL(process.argv[1] ?? '').href)
  writeFileSync(join(root, 'docs/glossary.md'), glossary());
