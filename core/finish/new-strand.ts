import { wordsOf } from '../formats/pass-kinds';
import { type Pass, passTitle, strandKind } from '../formats/passes';
import type { JoinMode } from '../kernels/join';
import { stepSpec } from '../steps/registry';
import { defaultsOf, type Values } from '../steps/shared/define';
import { andThen, called, type Edit, edit, freeId, freeName } from './edit';
import { putLink } from './edits';
import type { Finish, Head, PassHead, Step, Strand } from './finish';
import { slotName } from './slot-choices';

/** Starts of a new strand: a head, and steps that are added with it. */
export type Beginning = {
  key: string;
  name: string;
  description: string;
  /** What else it is called. */
  words?: readonly string[];
  head: Head;
  kind: Strand['kind'];
  /** Types of steps under the head; `slots` of the first link to strands of their own that begin at a pass. */
  steps?: readonly string[];
  slots?: Readonly<Record<string, PassHead>>;
  /** Values of the first step, beside its defaults. */
  values?: Values;
  /** Brought onto the strand that is worked on, where a matte with a strand of its own is. */
  joins?: { mode: JoinMode; mask: Beginning };
};

type Media = { name: string; passes: readonly Pass[] };

const passHead = (media: string, pass: string): PassHead => ({ type: 'pass', media, pass });

/** Id passes of a media: ranked ones by the name their layers share. */
function idBeginnings({ name: media, passes }: Media): Beginning[] {
  const ranked = new Map<string, number>();
  for (const p of passes) {
    const layer = p.kind === 'id-matte' ? /^(.*)\d\d$/.exec(p.name)?.[1] : undefined;
    if (layer !== undefined) ranked.set(layer, (ranked.get(layer) ?? 0) + 1);
  }
  const beauty = passes.find((p) => p.kind === 'picture');
  return [
    ...[...ranked].map(
      ([layer, ranks]): Beginning => ({
        key: `ids/${media}/${layer}`,
        name: 'Objects',
        description: `of ${layer}, chosen on the picture`,
        words: ['id', 'mask', 'select', 'one thing'],
        head: { type: 'ids', media, pass: layer, idFormat: 'ranked', ranks, objects: [] },
        kind: 'matte',
      }),
    ),
    ...passes
      .filter((p) => p.kind === 'id')
      .map(
        (p): Beginning => ({
          key: `ids/${media}/${p.name}`,
          name: 'Objects',
          description: `of ${p.label}, chosen on the picture`,
          words: ['id', 'mask', 'select', 'one thing'],
          head: {
            type: 'ids',
            media,
            pass: p.name,
            idFormat: p.channels.length >= 3 ? 'colour' : 'number',
            ranks: 1,
            objects: [],
            ...(beauty ? { edges: passHead(media, beauty.name) } : {}),
          },
          kind: 'matte',
        }),
      ),
  ];
}

/** Mattes that can be made of the passes of a shot, beside its id passes. */
function keyBeginnings({ name: media, passes }: Media): Beginning[] {
  const positions = passes.find((p) => p.kind === 'position');
  return passes.flatMap((p): Beginning[] => {
    const head = passHead(media, p.name);
    const key = `key/${media}/${p.name}`;
    if (p.kind === 'depth')
      return [
        {
          key,
          name: 'Depth range',
          description: `of ${p.label}: a range of distances`,
          words: ['near', 'far', 'mask', 'foreground', 'background'],
          head,
          kind: 'data',
          steps: ['depth-range'],
        },
        {
          key: `mist/${media}/${p.name}`,
          name: 'Mist density',
          description: `of ${p.label}: how dense mist is there`,
          words: ['fog', 'haze', 'mask'],
          head,
          kind: 'data',
          steps: ['mist-density'],
        },
      ];
    if (p.kind === 'mist')
      return [
        {
          key: `mist/${media}/${p.name}`,
          name: 'Mist density',
          description: `of ${p.label}`,
          head,
          kind: 'data',
          steps: ['mist-density'],
          values: { input: 'mist' },
        },
      ];
    if (p.kind === 'normal')
      return [
        {
          key,
          name: 'Facing',
          description: `of ${p.label}: surfaces that turn away`,
          words: ['fresnel', 'rim', 'grazing angle', 'mask'],
          head,
          kind: 'data',
          steps: ['facing'],
          ...(positions ? { slots: { positions: passHead(media, positions.name) } } : {}),
        },
      ];
    if (p.kind === 'emission')
      return [
        {
          key,
          name: 'Lights',
          description: `of ${p.label}: lamps brighter than a value`,
          words: ['emission', 'glowing', 'bright', 'mask'],
          head,
          kind: 'picture',
          steps: ['luminance-key'],
        },
      ];
    return [];
  });
}

/** The light passes of a media as a mix, where there are some beside its beauty. */
function mixBeginning({ name: media, passes }: Media): Beginning[] {
  const lights = passes.filter((p) => p.name !== '' && (p.kind === 'picture' || p.kind === 'emission'));
  if (lights.length < 2) return [];
  const beauty = passes.find((p) => p.name === '');
  return [
    {
      key: `mix/${media}`,
      name: 'Pass mix',
      description: `the light passes of ${media}, each by its own gain`,
      words: ['rebalance', 'light groups', 'layers', 'relight'],
      head: {
        type: 'mix',
        media,
        passes: lights.map((p) => ({ pass: p.name, gain: 1 })),
        ...(beauty ? { beauty: '' } : {}),
      },
      kind: 'picture',
    },
  ];
}

/** Reflections that are added where surfaces turn away, as exact Fresnel says: two strands and a join. */
function fresnelBeginning({ name: media, passes }: Media): Beginning[] {
  const reflection = passes.find(
    (p) => p.kind === 'picture' && wordsOf(p.name).some((w) => /^(refl|reflections?|spec|specular)$/.test(w)),
  );
  const normal = passes.find((p) => p.kind === 'normal');
  const positions = passes.find((p) => p.kind === 'position');
  if (!reflection || !normal) return [];
  return [
    {
      key: `fresnel/${media}`,
      name: 'Fresnel reflection',
      description: `${reflection.label} of ${media}, added where surfaces turn away`,
      head: passHead(media, reflection.name),
      kind: 'picture',
      // What is done to its colours stands between these two.
      steps: ['unpremultiply', 'premultiply'],
      joins: {
        mode: 'plus',
        mask: {
          key: '',
          name: 'Fresnel',
          description: '',
          head: passHead(media, normal.name),
          kind: 'data',
          steps: ['facing'],
          values: { measure: 'exact', black: 0.04 },
          ...(positions ? { slots: { positions: passHead(media, positions.name) } } : {}),
        },
      },
    },
  ];
}

/** The mattes that a strand may begin as; `place` is what their keys read where they read a picture. */
export function matteBeginnings(
  media: readonly Media[],
  from: { strand: string; after: string; name: string },
): Beginning[] {
  const tap = { type: 'tap', strand: from.strand, after: from.after } as const;
  const ofPicture = (type: string, name: string, description: string): Beginning => ({
    key: `of/${type}`,
    name,
    description: description,
    head: tap,
    kind: 'picture',
    steps: [type],
  });
  return [
    {
      key: 'shapes',
      name: 'Shapes',
      description: 'drawn over the picture',
      words: [
        'draw',
        'mask',
        'lasso',
        'outline',
        'cut out',
        'crop',
        'rectangle',
        'ellipse',
        'path',
        'freehand',
      ],
      head: { type: 'shapes', shapes: [] },
      kind: 'matte',
    },
    ...media.flatMap(idBeginnings),
    ofPicture('luminance-key', 'Bright parts', `of ${from.name}, by luminance`),
    ofPicture('colour-key', 'Colours', `of ${from.name}, that you pick`),
    ofPicture('alpha-edge', 'Edge', `of ${from.name}, along its alpha`),
    ...media.flatMap(keyBeginnings),
  ];
}

/** Everything a new strand may begin at. */
export const allBeginnings = (
  media: readonly Media[],
  from: { strand: string; after: string; name: string },
): Beginning[] => [
  ...media.flatMap((m) => [...mixBeginning(m), ...fresnelBeginning(m)]),
  ...media.flatMap((m) =>
    m.passes.map(
      (p): Beginning => ({
        key: `${m.name}/${p.name}`,
        name: passTitle(m.name, p),
        description: `${p.kind} of ${m.name}`,
        head: passHead(m.name, p.name),
        kind: strandKind(p),
      }),
    ),
  ),
  {
    key: 'colour',
    name: 'Colour',
    description: 'one colour everywhere',
    words: ['solid', 'fill', 'background', 'constant'],
    head: { type: 'colour', colour: [0.18, 0.18, 0.18], alpha: 1 },
    kind: 'picture',
  },
  {
    key: 'gradient',
    name: 'Gradient',
    description: 'from one colour to another',
    words: ['ramp', 'fade', 'sky', 'background'],
    head: { type: 'gradient', from: [0, 0, 0], fromAlpha: 1, to: [1, 1, 1], toAlpha: 1, angle: 90 },
    kind: 'picture',
  },
  ...matteBeginnings(media, from),
];

/** A strand from a beginning, and the ids it got: of the strand, and of what is worked on first. */
export function startStrand(doc: Finish, from: Beginning): { edit: Edit; strand: string; selects: string } {
  const strand = freeId(doc, 'strand');
  const taken = new Set([strand]);
  const free = (base: string) => {
    let id = freeId(doc, base);
    for (let n = 2; taken.has(id); n++) id = freeId(doc, `${base}-${n}`);
    taken.add(id);
    return id;
  };
  const slots = Object.entries(from.slots ?? {}).map(([slot, head]) => ({ slot, head, id: free('strand') }));
  const types = (from.steps ?? []).map((type) => ({ type, id: free(type) }));
  return {
    strand,
    selects: types[0]?.id ?? strand,
    // Built inside the edit: an edit is applied more than once, and what a document has taken in is frozen.
    edit: edit(`start a strand from ${from.name}`, (draft) => {
      for (const { id, head } of slots)
        draft.strands.push({
          id,
          name: freeName(draft, head.pass),
          kind: 'data',
          forSlot: true,
          head: { ...head },
          steps: [],
        });
      draft.strands.push({
        id: strand,
        name: freeName(draft, from.name),
        kind: from.kind,
        head: structuredClone(from.head),
        steps: types.map(({ type, id }, i): Step => {
          const own = i === 0 ? structuredClone(from.values) : undefined;
          const values = { ...defaultsOf(stepSpec(type)!.values), ...own } as Step['values'];
          const links =
            i === 0 ? slots.map(({ slot, id }) => [slot, { strand: id, after: 'end' as const }]) : [];
          return { id, type, bypass: false, values, slots: Object.fromEntries(links) };
        }),
      });
    }),
  };
}

/** A strand that is brought onto another at once, with its matte: all in one edit, by the name of the beginning. */
export function startJoined(doc: Finish, from: Beginning, onto: { strand: string; index: number }) {
  const first = startStrand(doc, from);
  const { joins } = from;
  if (!joins) return first;
  const matte = startStrand(first.edit.apply(doc), joins.mask);
  const strands = andThen(first.edit, () => matte.edit);
  const id = freeId(strands.apply(doc), 'join');
  const joined = edit(`add ${from.name}`, (draft) => {
    const { steps } = draft.strands.find((s) => s.id === onto.strand)!;
    const values = { ...defaultsOf(stepSpec('join')!.values), mode: joins.mode } as Step['values'];
    const slots = {
      picture: { strand: first.strand, after: 'end' },
      mask: { strand: matte.strand, after: 'end' },
    };
    steps.splice(onto.index, 0, { id, type: 'join', name: from.name, bypass: false, values, slots });
  });
  return {
    strand: first.strand,
    selects: id,
    edit: called(
      joined.label,
      andThen(strands, () => joined),
    ),
  };
}

/** A new strand, linked to a slot. */
export function startForSlot(doc: Finish, stepId: string, slot: string, from: Beginning) {
  const started = startStrand(doc, from);
  const description = `take ${slotName(doc, stepId, slot)} from ${from.name}`;
  const linked = edit(description, (draft) => {
    putLink(draft, stepId, slot, { strand: started.strand, after: 'end' });
  });
  return {
    ...started,
    edit: called(
      description,
      andThen(started.edit, () => linked),
    ),
  };
}
