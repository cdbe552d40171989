import type { Track } from '../time/track';
import { plainOf } from './edit';
import { type Finish, type Head, originalOf, type Step, type Strand, type Tap } from './finish';
import { kindsAlong } from './flow';
import { type Contents, contentsOf, inputIdOf, isUse, slotsOf } from './uses';

/**
 * What is inside a recipe, on its own: as it is copied, kept in the library and written to files. Its steps stand on a strand `main` that begins at the
 * picture that comes to the recipe; ids are the recipe's own.
 */
export type Packed = {
  use: Omit<Step, 'id' | 'slots'>;
  main: 'main';
  strands: Strand[];
  guides: NonNullable<Finish['guides']>;
};

export const packedMain = 'main';

/** How ids become others; a point may become a point of another strand. */
type Renaming = {
  id(id: string): string;
  point(tap: Pick<Tap, 'strand' | 'after'>): Pick<Tap, 'strand' | 'after'>;
};

function track(given: Track, { id }: Renaming): Track {
  const { follows } = given;
  return follows ? { ...given, follows: { ...follows, guide: id(follows.guide) } } : given;
}

const animation = <T extends { animation?: Record<string, Track> }>(of: T, by: Renaming): T =>
  of.animation
    ? {
        ...of,
        animation: Object.fromEntries(Object.entries(of.animation).map(([k, t]) => [k, track(t, by)])),
      }
    : of;

function renamedStep(step: Step, by: Renaming): Step {
  const slots = Object.entries(step.slots).map(([slot, tap]) => [slot, { ...tap, ...by.point(tap) }]);
  const front = step.front?.map((f) => ({
    ...f,
    drives: f.drives.map((d) => ({ ...d, step: by.id(d.step) })),
  }));
  return animation(
    {
      ...step,
      id: by.id(step.id),
      ...(step.follows === undefined ? {} : { follows: by.id(step.follows) }),
      slots: Object.fromEntries(slots),
      ...(front ? { front } : {}),
    },
    by,
  );
}

function renamedHead(head: Head, by: Renaming): Head {
  switch (head.type) {
    case 'tap':
      return { ...head, ...by.point(head) };
    case 'input':
      return head.from ? { ...head, from: { ...head.from, ...by.point(head.from) } } : head;
    case 'stack':
      return {
        ...head,
        layers: head.layers.map((layer) =>
          animation(
            {
              ...layer,
              ...(layer.id === undefined ? {} : { id: by.id(layer.id) }),
              ...(layer.follows === undefined ? {} : { follows: by.id(layer.follows) }),
              ...(layer.from ? { from: by.point(layer.from) } : {}),
            },
            by,
          ),
        ),
      };
    case 'mix':
      return {
        ...head,
        passes: head.passes.map((p) =>
          animation({ ...p, ...(p.within ? { within: { ...p.within, ...by.point(p.within) } } : {}) }, by),
        ),
      };
    case 'shapes':
      return { ...head, shapes: head.shapes.map((s) => animation(s, by)) };
    case 'colour':
    case 'gradient':
      return animation(head, by);
    default:
      return head;
  }
}

function renamedStrand(strand: Strand, by: Renaming): Strand {
  const inside = strand.inside === undefined ? {} : { inside: by.id(strand.inside) };
  const steps = strand.steps.map((s) => renamedStep(s, by));
  return { ...strand, ...inside, id: by.id(strand.id), head: renamedHead(strand.head, by), steps };
}

type Guide = NonNullable<Finish['guides']>[number];

function renamedGuide(guide: Guide, by: Renaming): Guide {
  const { source } = guide;
  const now = { ...guide, id: by.id(guide.id) };
  if (guide.inside !== undefined) now.inside = by.id(guide.inside);
  if (source?.type === 'middle' || source?.type === 'patch') now.source = { ...source, ...by.point(source) };
  if (source?.type === 'light') now.source = { ...source, step: by.id(source.step) };
  return now;
}

/** All uses of what belongs to a use, and itself: whatever names one of them is inside. */
const usesIn = (contents: Contents): ReadonlySet<string> =>
  new Set(
    [contents.use, ...contents.steps, ...contents.strands.flatMap((s) => s.steps)]
      .filter(isUse)
      .map((s) => s.id),
  );

/** The guides that belong to a use, or to one inside it. */
const guidesInside = (doc: Finish, uses: ReadonlySet<string>): Guide[] =>
  (doc.guides ?? []).filter((g) => g.inside !== undefined && uses.has(g.inside));

/** What everything inside a use is called in the recipe itself, by its id in the finish. Those that came with the recipe keep their names. */
export function localIds(doc: Finish, useId: string): ReadonlyMap<string, string> {
  const contents = contentsOf(doc, useId);
  const { steps, strands } = contents;
  const all = [
    ...steps.map((s) => s.id),
    ...strands.flatMap((s) => [s.id, ...s.steps.map((t) => t.id)]),
    ...guidesInside(doc, usesIn(contents)).map((g) => g.id),
    ...strands.flatMap(({ head }) => (head.type === 'stack' ? head.layers.flatMap((l) => l.id ?? []) : [])),
  ];
  const cameWithIt = (id: string) => id.startsWith(`${useId}.`);
  const locals = new Map<string, string>();
  const taken = new Set<string>([packedMain, 'head', 'end', 'input']);
  for (const id of [...all].sort((a, b) => Number(cameWithIt(b)) - Number(cameWithIt(a)))) {
    const stem = cameWithIt(id) ? id.slice(useId.length + 1) : id;
    let local = stem;
    for (let n = 2; taken.has(local); n++) local = `${stem}-${n}`;
    taken.add(local);
    locals.set(id, local);
  }
  return locals;
}

/** What is inside a use, on its own. Links that come from outside are left out; `closeUse` makes slots of them before. */
export function packedUse(given: Finish, useId: string): Packed {
  const doc = plainOf(given);
  const contents = contentsOf(doc, useId);
  const { use, strand: host, first, steps, strands } = contents;
  const guides = guidesInside(doc, usesIn(contents));
  const input = inputIdOf(useId);
  const locals = localIds(doc, useId);
  const by: Renaming = {
    id: (id) => locals.get(id) ?? id,
    point: ({ strand, after }) => ({
      strand: strand === host.id ? packedMain : (locals.get(strand) ?? strand),
      after: strand === host.id && after === input ? 'head' : (locals.get(after) ?? after),
    }),
  };
  /** A copy that follows a step elsewhere has its values. */
  const settled = (step: Step): Step => {
    if (step.follows === undefined || locals.has(step.follows)) return step;
    const { follows: _, ...rest } = step;
    const { values, animation } = originalOf(doc, step);
    return { ...rest, values, ...(animation ? { animation } : {}) };
  };
  const inner = strands.map((s): Strand => {
    const { inside, ...rest } = renamedStrand({ ...s, steps: s.steps.map(settled) }, by);
    const own = s.inside === useId ? rest : { ...rest, inside };
    return own.head.type === 'input' && s.inside === useId ? { ...own, head: unlinked(own.head) } : own;
  });
  const main: Strand = {
    id: packedMain,
    name: 'Recipe',
    kind: kindsAlong(doc, host)[first],
    head: { type: 'input' },
    steps: steps.map((s) => renamedStep(settled(s), by)),
  };
  const { id: _, slots: __, ...rest } = renamedStep(use, by);
  return {
    use: rest,
    main: packedMain,
    strands: [main, ...inner],
    guides: guides.map((g) => {
      const { inside, ...own } = renamedGuide(g, by);
      return g.inside === useId ? own : { ...own, inside };
    }),
  };
}

/** A slot to which nothing is linked. */
const unlinked = ({ from: _, ...head }: Extract<Head, { type: 'input' }>): Head => head;

/**
 * Puts what was packed onto a strand of a draft, as the use `useId`. Slots take `links`, by the ids that their strands have in the recipe. `idOf` gives
 * what is inside its id in the finish.
 */
export function unpack(
  draft: Finish,
  given: Packed,
  at: { strand: string; index: number },
  useId: string,
  {
    links = {},
    idOf = (local) => `${useId}.${local}`,
  }: { links?: Step['slots']; idOf?(local: string): string } = {},
): void {
  const host = draft.strands.find((s) => s.id === at.strand)!;
  const input = inputIdOf(useId);
  // The same may be unpacked again, into another draft.
  const packed = structuredClone(given);
  const by: Renaming = {
    id: idOf,
    point: ({ strand, after }) =>
      strand === packedMain
        ? { strand: host.id, after: after === 'head' ? input : idOf(after) }
        : { strand: idOf(strand), after: after === 'head' || after === 'end' ? after : idOf(after) },
  };
  const [main, ...strands] = packed.strands;
  const use = renamedStep({ ...packed.use, id: '', slots: {} }, by);
  const mask: Step['slots'] = links.mask ? { mask: links.mask } : {};
  host.steps.splice(
    at.index,
    0,
    { id: input, type: 'recipe-input', bypass: false, slots: {}, values: {} },
    ...main.steps.map((s) => renamedStep(s, by)),
    { ...use, id: useId, slots: mask },
  );
  for (const strand of strands) {
    const made = renamedStrand(strand, by);
    const inside = made.inside ?? useId;
    const from = strand.inside === undefined ? links[strand.id] : undefined;
    const head = made.head.type === 'input' && from ? { ...made.head, from } : made.head;
    draft.strands.push({ ...made, inside, head });
  }
  if (packed.guides.length > 0)
    draft.guides = [
      ...(draft.guides ?? []),
      ...packed.guides.map((g) => {
        const made = renamedGuide(g, by);
        return { ...made, inside: made.inside ?? useId };
      }),
    ];
}

/** Links of the slots of a use, by the ids that they have in the recipe. */
export function packedLinks(doc: Finish, useId: string): Step['slots'] {
  const locals = localIds(doc, useId);
  const inputs = slotsOf(doc, useId).flatMap(({ strand, head }) =>
    head.from ? [[locals.get(strand.id)!, head.from]] : [],
  );
  return { ...contentsOf(doc, useId).use.slots, ...Object.fromEntries(inputs) };
}

/** Takes what belongs to a use out of a draft, beside its steps: its strands and guides. */
export function dropInside(draft: Finish, useId: string): void {
  const contents = contentsOf(draft, useId);
  const uses = usesIn(contents);
  const gone = new Set(contents.strands.map((s) => s.id));
  draft.strands = draft.strands.filter((s) => !gone.has(s.id));
  if (!draft.guides) return;
  const left = draft.guides.filter((g) => g.inside === undefined || !uses.has(g.inside));
  if (left.length > 0) draft.guides = left;
  else delete draft.guides;
}
