import {
  ChevronDown,
  ChevronUp,
  Circle,
  ClipboardPaste,
  Copy,
  Diamond,
  Download,
  Eye,
  EyeOff,
  Pencil,
  Spline,
  Square,
  Trash2,
  Upload,
} from 'lucide-react';
import { useRef, useState } from 'react';
import { toast } from 'sonner';
import { type DrawTool, drawTools, previewed, useShot } from '@/browser/shot-store';
import type { Edit } from '@/core/finish/edit';
import type { ShapesHead as Head, Strand } from '@/core/finish/finish';
import type { Shape } from '@/core/finish/heads';
import {
  addShapes,
  changeShape,
  freeShapeId,
  isKeyed,
  keyShape,
  moveShape,
  newShape,
  removeShape,
  setPath,
  setPlace,
  unkeyShape,
} from '@/core/finish/shape-edits';
import type { PathPoint } from '@/core/mattes/path';
import { pathAt, placeAt, placedPath } from '@/core/mattes/shapes';
import { fromSvg, toSvg } from '@/core/mattes/svg';
import type { NumberSpec } from '@/core/steps/define';
import type { ShotDetail } from '@/server/shots/shots';
import { IconButton } from '../parts/IconButton';
import { Options } from '../parts/Options';
import { NumberField } from './NumberField';

const icons = { path: Spline, rectangle: Square, ellipse: Circle, freehand: Pencil } as const;
const sorts = { add: 'Added', subtract: 'Taken away', intersect: 'Kept inside' } as const;

/** A path taken from one frame or shape for another. */
let copied: readonly PathPoint[] | undefined;

/** The drawn shapes of a matte: tools, the list in its order, and what the chosen one is like. */
export function ShapesHead({ strand, head, shot }: { strand: Strand; head: Head; shot: ShotDetail }) {
  const shown = useShot(previewed).strands.find((s) => s.id === strand.id)?.head;
  const finish = useShot((s) => s.finish);
  const edit = useShot((s) => s.edit);
  const change = useShot((s) => s.change);
  const frame = useShot((s) => s.frame);
  const chosen = useShot((s) => s.shape);
  const drawing = useShot((s) => (s.tool?.sort === 'draw' ? s.tool.with : undefined));
  const file = useRef<HTMLInputElement>(null);
  const shape = (shown?.type === 'shapes' ? shown : head).shapes.find((s) => s.id === chosen);
  const draw = (tool: DrawTool) =>
    change(
      drawing === tool
        ? { tool: undefined }
        : { tool: { sort: 'draw', with: tool, strand: strand.id }, points: [] },
    );
  const readSvg = async (given: File) => {
    try {
      const paths = fromSvg(await given.text());
      const free = freeShapeId(finish, strand.id);
      const start = Number(free.split('-').pop());
      edit(
        addShapes(
          strand.id,
          paths.map((p, i) => newShape(`shape-${start + i}`, p.name, frame, p.points)),
        ),
      );
    } catch (error) {
      toast.error(`${given.name}: ${(error as Error).message}`);
    }
  };
  const writeSvg = () => {
    const text = toSvg(
      shot,
      head.shapes.map((s) => ({ name: s.name, points: placedPath(s, frame) })),
    );
    const address = URL.createObjectURL(new Blob([text], { type: 'image/svg+xml' }));
    const link = document.createElement('a');
    link.href = address;
    link.download = `${strand.name}.${frame}.svg`;
    link.click();
    URL.revokeObjectURL(address);
  };
  return (
    <section className="grid gap-1.5 border-b border-line px-4 py-2.5 text-[13px]" aria-label="Shapes">
      <div className="flex items-center">
        <span className="mr-auto font-semibold text-secondary">Shapes</span>
        {(Object.keys(drawTools) as DrawTool[]).map((tool) => (
          <IconButton
            key={tool}
            icon={icons[tool]}
            label={`Draw: ${drawTools[tool].toLowerCase()}`}
            pressed={drawing === tool}
            onClick={() => draw(tool)}
          />
        ))}
        <IconButton icon={Upload} label="Read paths from an SVG file" onClick={() => file.current?.click()} />
        <IconButton
          icon={Download}
          label="Write the paths of this frame as SVG"
          disabled={head.shapes.length === 0}
          onClick={writeSvg}
        />
        <input
          ref={file}
          type="file"
          accept=".svg,image/svg+xml"
          className="hidden"
          aria-label="SVG file"
          onChange={(e) => {
            const [given] = e.target.files ?? [];
            if (given) readSvg(given);
            e.target.value = '';
          }}
        />
      </div>
      {head.shapes.length === 0 && (
        <p className="text-quiet">Choose a tool and draw on the picture. What is inside is the matte.</p>
      )}
      <ol className="grid gap-0.5" aria-label="Drawn shapes">
        {head.shapes.map((s) => (
          <li
            key={s.id}
            className={`flex items-center gap-1 rounded pl-2 ${s.id === chosen ? 'bg-base-300' : ''}`}
          >
            <button
              type="button"
              className="min-w-0 flex-1 cursor-pointer truncate text-left"
              aria-pressed={s.id === chosen}
              onClick={() => change({ shape: s.id, points: [] })}
            >
              {s.name}
            </button>
            {s.animated && <Diamond size={11} className="text-secondary" aria-label="has keys" />}
            <select
              className="select select-xs w-24"
              aria-label={`How ${s.name} counts`}
              value={s.sort}
              onChange={(e) =>
                edit(changeShape(finish, strand.id, s.id, { sort: e.target.value as Shape['sort'] }))
              }
            >
              <Options of={sorts} />
            </select>
            <IconButton
              icon={s.hidden ? EyeOff : Eye}
              label={s.hidden ? `Show ${s.name}` : `Hide ${s.name}`}
              pressed={s.hidden}
              onClick={() =>
                edit(changeShape(finish, strand.id, s.id, { hidden: s.hidden ? undefined : true }))
              }
            />
          </li>
        ))}
      </ol>
      {shape && <ShapeFields shape={shape} strand={strand} count={head.shapes.length} />}
    </section>
  );
}

const share: NumberSpec = {
  type: 'number',
  band: 'lay',
  name: 'Opacity',
  says: 'How much of it counts.',
  unit: 'ratio',
  default: 1,
  from: 0,
  to: 1,
  soft: [0, 1],
};
const soft: NumberSpec = {
  ...share,
  name: 'Softness',
  says: 'Of the edge, to both sides.',
  unit: 'px',
  default: 0,
  to: 4096,
  soft: [0, 100],
};
const placeSpecs = {
  x: {
    ...soft,
    name: 'Right',
    says: 'How far it is moved to the right.',
    from: -32768,
    to: 32768,
    soft: [-400, 400],
  },
  y: {
    ...soft,
    name: 'Down',
    says: 'How far it is moved downwards.',
    from: -32768,
    to: 32768,
    soft: [-400, 400],
  },
  turn: {
    ...share,
    name: 'Turn',
    says: 'Counter-clockwise.',
    unit: 'degrees',
    default: 0,
    from: -3600,
    to: 3600,
    soft: [-180, 180],
  },
  scale: { ...share, name: 'Scale', says: 'Its size.', from: 0.01, to: 100, soft: [0.1, 3] },
} satisfies Record<string, NumberSpec>;

function ShapeFields({ shape, strand, count }: { shape: Shape; strand: Strand; count: number }) {
  const finish = useShot((s) => s.finish);
  const edit = useShot((s) => s.edit);
  const change = useShot((s) => s.change);
  const frame = useShot((s) => s.frame);
  const points = useShot((s) => s.points);
  const [name, setName] = useState<string | undefined>();
  const at = strand.head.type === 'shapes' ? strand.head.shapes.findIndex((s) => s.id === shape.id) : 0;
  const keyed = isKeyed(shape, frame);
  const place = placeAt(shape, frame);
  const path = pathAt(shape, frame);
  const field = (id: string, spec: NumberSpec, value: number, make: (v: number) => Edit) => (
    <NumberField
      key={id}
      id={id}
      spec={spec}
      value={value}
      onPreview={(v) => change({ preview: make(v) })}
      onCommit={(v) => edit(make(v))}
    />
  );
  const [chosen] = points;
  const frames = [...new Set([...shape.paths, ...shape.places].map((k) => k.frame))].sort((a, b) => a - b);
  return (
    <div className="grid gap-1.5 border-t border-line pt-2">
      <div className="flex items-center">
        <input
          className="input input-xs mr-auto w-28"
          aria-label="Name of the shape"
          value={name ?? shape.name}
          onChange={(e) => setName(e.target.value)}
          onBlur={() => {
            const to = name?.trim();
            if (to && to !== shape.name) edit(changeShape(finish, strand.id, shape.id, { name: to }));
            setName(undefined);
          }}
          onKeyDown={(e) => e.key === 'Enter' && e.currentTarget.blur()}
        />
        <IconButton
          icon={ChevronUp}
          label="Earlier"
          disabled={at === 0}
          onClick={() => edit(moveShape(finish, strand.id, shape.id, -1))}
        />
        <IconButton
          icon={ChevronDown}
          label="Later"
          disabled={at === count - 1}
          onClick={() => edit(moveShape(finish, strand.id, shape.id, 1))}
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
          onClick={() => copied && edit(setPath(finish, strand.id, shape.id, frame, copied, true))}
        />
        <IconButton
          icon={Trash2}
          label="Remove the shape"
          onClick={() => {
            edit(removeShape(finish, strand.id, shape.id));
            change({ shape: undefined, points: [] });
          }}
        />
      </div>
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
          { ...soft, name: 'At point', says: 'Softness at the chosen point, beside that of the shape.' },
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
      {(Object.keys(placeSpecs) as (keyof typeof placeSpecs)[]).map((key) =>
        field(`place-${key}`, placeSpecs[key], place[key], (v) =>
          setPlace(finish, strand.id, shape.id, frame, { [key]: v }),
        ),
      )}
      <div className="flex flex-wrap items-center gap-1 text-xs text-quiet">
        <IconButton
          icon={Diamond}
          label={keyed ? 'Take the key of this frame away' : 'Key on this frame'}
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
