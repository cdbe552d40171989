import { stageReasons } from '../core/finish/usual-place';
import { steps } from '../core/steps/registry';
import { kindsOf, type Section, type StepSpec, sections, type ValueSpec } from '../core/steps/shared/define';
import { stepExamples } from '../demo/handbook/steps';
import { formatValue } from '../ui/parts/format-value';

/** Pages of the handbook for every step, written from its declaration and from what it is good for. */

const cell = (text: string) => text.replaceAll('|', '\\|').replaceAll('\n', ' ');

function rangeOf(spec: ValueSpec): string {
  switch (spec.type) {
    case 'number':
      return `${spec.from} to ${spec.to}${spec.unit === 'px' ? ' px' : spec.unit === 'degrees' ? ' °' : ''}`;
    case 'choice':
      return Object.values(spec.options).join(', ');
    case 'toggle':
      return 'on or off';
    default:
      return '';
  }
}
const startOf = (spec: ValueSpec) =>
  spec.type === 'number' || spec.type === 'choice' || spec.type === 'toggle'
    ? formatValue(spec, spec.default)
    : '';

function sectionOf(spec: StepSpec, section: Section): string {
  const slots = Object.values(spec.slots).filter((s) => s.section === section);
  const values = Object.values(spec.values).filter((s) => s.section === section);
  if (slots.length + values.length === 0) return '';
  const question = section === 'take' && spec.sourceQuestion ? spec.sourceQuestion : sections[section];
  const rows = [
    ...slots.map((s) => `| ${cell(s.name)} | ${cell(s.description)} | a ${s.kind} | |`),
    ...values.map(
      (s) => `| ${cell(s.name)} | ${cell(s.description)} | ${cell(rangeOf(s))} | ${cell(startOf(s))} |`,
    ),
  ];
  return `
## ${section.replace(/^./, (c) => c.toUpperCase())}: ${question}

| name | what it does | range | begins at |
|---|---|---|---|
${rows.join('\n')}
`;
}

function pageOf(spec: StepSpec): string {
  const { goodFor, on } = stepExamples[spec.id];
  const shot = on === 'hall' ? 'Orrery Hall' : 'Moth and Comet';
  const accepts = kindsOf(spec).join(' or ');
  return `# ${spec.name}

${spec.description}

**Good for.** ${goodFor}

| before | after |
|---|---|
| ![What comes to ${spec.name}: ${shot}](../pictures/steps/${spec.id}-before.webp) | ![What ${spec.name} makes of it](../pictures/steps/${spec.id}-after.webp) |

It accepts a ${accepts}${spec.produces ? ` and makes a ${spec.produces}` : ''}. Its stage is *${spec.stage.replace(/^./, (c) => c.toUpperCase())}*: ${stageReasons[spec.stage]}.${
    spec.order ? ` Within it: ${spec.order.why}.` : ''
  }
${(Object.keys(sections) as Section[]).map((s) => sectionOf(spec, s)).join('')}`;
}

/** The Markdown of each page by the id of its step, and of the list of all (`index`). */
export function stepPages(): Record<string, string> {
  const shown = steps.filter((s) => stepExamples[s.id]);
  const stages = [...new Set(shown.map((s) => s.stage))];
  const index = `# All steps

${stages
  .map(
    (stage) => `## ${stage.replace(/^./, (c) => c.toUpperCase())}

${shown
  .filter((s) => s.stage === stage)
  .map((s) => `- [${s.name}](${s.id}.md). ${s.description}`)
  .join('\n')}
`,
  )
  .join('\n')}`;
  return { ...Object.fromEntries(shown.map((s) => [s.id, pageOf(s)])), index };
}
