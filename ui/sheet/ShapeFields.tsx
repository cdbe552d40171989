import { ChevronDown, ChevronUp, ClipboardPaste, Copy, Diamond, Trash2 } from 'lucide-react';
import { toast } from 'sonner';
import { useRefusing, useShot } from '@/browser/session/store';
import type { Edit } from '@/core/finish/edit';
import type { Strand } from '@/core/finish/finish';
import type { Shape } from '@/core/finish/heads';
import {
  changeShape,
  isKeyed,
  keyShape,
  moveShape,
  removeShape,
  setPath,
  transformShape,
  unkeyShape,
} from '@/core/finish/shape-edits';
import { pathAt, transformAt } from '@/core/finish/shapes';
import type { PathPoint } from '@/core/math/path';
import type { NumberSpec } from '@/core/steps/define';
import { IconButton } from '../parts/IconButton';
import { Options } from '../parts/Options';
import { TextField } from '../parts/TextField';
import { NumberField } from './NumberField';

const rules = { nonzero: 'Nonzero', evenodd: 'Even-odd' } as const;

/** A path taken from one frame or shape for another. */
let copied: readonly PathPoint[] | undefined;

const share: NumberSpec = {
  type: 'number',
  section: 'lay',
  name: 'Opacity',
  description: 'How much of it counts.',
  unit: 'ratio',
  default: 1,
  from: 0,
  to: 1,
  soft: [0, 1],
};
const soft: NumberSpec = {
  ...share,
  name: 'Softness',
  description: 'Of the edge, to both sides.',
  unit: 'px',
  default: 0,
  to: 4096,
  soft: [0, 100],
};
const transformSpecs = {
  moveX: {
    ...soft,
    name: 'Move x',
    description: 'To the right.',
    from: -32768,
    to: 32768,
    soft: [-400, 400],
  },
  moveY: {
    ...soft,
    name: 'Move y',
    description: 'Upwards.',
    from: -32768,
    to: 32768,
    soft: [-400, 400],
  },
  rotate: {
    ...share,
    name: 'Rotate',
    description: 'Counter-clockwise.',
    unit: 'degrees',
    default: 0,
    from: -3600,
    to: 3600,
    soft: [-180, 180],
  },
  scale: { ...share, name: 'Scale', description: 'Its size.', from: 0.01, to: 100, soft: [0.1, 3] },
} satisfies Record<string, NumberSpec>;

/** Fields of a drawn shape: its order, edge, transform and keys. */
export function ShapeFields({ shape, strand, count }: { shape: Shape; strand: Strand; count: number }) {
  const finish = useShot((s) => s.finish);
  const edit = useShot((s) => s.edit);
  const change = useShot((s) => s.change);
  const frame = useShot((s) => s.frame);
  const points = useShot((s) => s.points);
  const refusing = useRefusing();
  const at = strand.head.type === 'shapes' ? strand.head.shapes.findIndex((s) => s.id === shape.id) : 0;
  const keyed = isKeyed(shape, frame);
  const transform = transformAt(shape, frame);
  const path = pathAt(shape, frame);
  const field = (id: string, spec: NumberSpec, value: number, make: (v: number) => Edit) => (
    <NumberField
      key={id}
      id={id}
      spec={spec}
      value={value}
      onPreview={(v) => change({ preview: v === undefined ? undefined : make(v) })}
      onCommit={(v) => edit(make(v))}
    />
  );
  const [chosen] = points;
  const frames = [...new Set([...shape.paths, ...shape.transforms].map((k) => k.frame))].sort(
    (a, b) => a - b,
  );
  return (
    <div className="grid gap-1.5 border-t border-line pt-2">
      <div className="flex items-center">
        <span className="mr-auto w-28">
          <TextField
            label="Name of the shape"
            className="input input-xs w-full"
            value={shape.name}
            onCommit={(text) => {
              const name = text.trim();
              return name ? refusing((doc) => changeShape(doc, strand.id, shape.id, { name })) : undefined;
            }}
          />
        </span>
        <IconButton
          icon={ChevronUp}
          label="Earlier"
          disabled={at === 0}
          onClick={() => edit((finish) => moveShape(finish, strand.id, shape.id, -1))}
        />
        <IconButton
          icon={ChevronDown}
          label="Later"
          disabled={at === count - 1}
          onClick={() => edit((finish) => moveShape(finish, strand.id, shape.id, 1))}
        />
        <IconButton
          icon={Copy}
          label="Copy the path of this frame"
          onClick={() => {
            copied = path;
            toast(`Path of ${shape.name} on frame ${frame} copied.`);
          }}
        />
        <IconButton
          icon={ClipboardPaste}
          label="Paste the copied path here, with a key"
          onClick={() =>
            copied && edit((finish) => setPath(finish, strand.id, shape.id, frame, copied!, true))
          }
        />
        <IconButton
          icon={Trash2}
          label="Remove the shape"
          onClick={() => {
            edit((finish) => removeShape(finish, strand.id, shape.id));
            change({ shape: undefined, points: [] });
          }}
        />
      </div>
      <label className="flex items-center">
        <span className="mr-auto" title="What is filled where the path crosses itself.">
          Fill rule
        </span>
        <select
          className="select select-xs w-28"
          aria-label="Fill rule"
          value={shape.fillRule ?? 'nonzero'}
          onChange={(e) =>
            edit(
              changeShape(finish, strand.id, shape.id, {
                fillRule: e.target.value === 'evenodd' ? 'evenodd' : undefined,
              }),
            )
          }
        >
          <Options of={rules} />
        </select>
      </label>
      {field('shape-opacity', share, shape.opacity, (v) =>
        changeShape(finish, strand.id, shape.id, { opacity: v }),
      )}
      {field('shape-feather', soft, shape.feather, (v) =>
        changeShape(finish, strand.id, shape.id, { feather: v }),
      )}
      {chosen !== undefined &&
        path[chosen] &&
        field(
          'point-feather',
          {
            ...soft,
            name: 'At point',
            description: 'Softness at the chosen point, beside that of the shape.',
          },
          path[chosen].feather ?? 0,
          (v) =>
            setPath(
              finish,
              strand.id,
              shape.id,
              frame,
              path.map((p, i) => (points.includes(i) ? { ...p, feather: v } : p)),
            ),
        )}
      {(Object.keys(transformSpecs) as (keyof typeof transformSpecs)[]).map((key) =>
        field(`transform-${key}`, transformSpecs[key], transform[key], (v) =>
          transformShape(finish, strand.id, shape.id, frame, { [key]: v }),
        ),
      )}
      <div className="flex flex-wrap items-center gap-1 text-xs text-quiet">
        <IconButton
          icon={Diamond}
          label={keyed ? 'Remove the key of this frame' : 'Add a key on this frame'}
          pressed={keyed}
          onClick={() => edit((keyed ? unkeyShape : keyShape)(finish, strand.id, shape.id, frame))}
        />
        {shape.animated
          ? frames.map((f) => (
              <button
                key={f}
                type="button"
                className={`cursor-pointer rounded px-1 ${f === frame ? 'bg-base-300 text-secondary' : 'hover:bg-base-300'}`}
                onClick={() => change({ frame: f })}
              >
                {f}
              </button>
            ))
          : 'No keys: it holds on every frame.'}
      </div>
    </div>
  );
}
