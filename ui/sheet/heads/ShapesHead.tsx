import { Circle, Diamond, Download, Eye, EyeOff, Pencil, Spline, Square, Upload } from 'lucide-react';
import { useRef } from 'react';
import { toast } from 'sonner';
import type { ShotDetail } from '@/api/shots';
import { type DrawTool, drawTools, previewed, useShot } from '@/browser/session/store';
import { shapeOn } from '@/core/finish/animated';
import type { ShapesHead as Head, Strand } from '@/core/finish/finish';
import type { Shape } from '@/core/finish/heads';
import { addShapes, changeShape, freeShapeId, newShape } from '@/core/finish/shape-edits';
import { transformedPath } from '@/core/finish/shapes';
import { fromSvg, toSvg } from '@/core/mattes/svg';
import { IconButton } from '../../parts/IconButton';
import { Options } from '../../parts/Options';
import { saveFile } from '../../parts/save-file';
import { t } from '../../words/words';
import { ShapeFields } from './ShapeFields';

const icons = { path: Spline, rectangle: Square, ellipse: Circle, freehand: Pencil } as const;
const sorts = { add: t`Add`, subtract: t`Subtract`, intersect: t`Intersect` } as const;

/** The drawn shapes of a matte: tools, the list in its order, and what the chosen one is like. */
export function ShapesHead({ strand, head, shot }: { strand: Strand; head: Head; shot: ShotDetail }) {
  const doc = useShot(previewed);
  const shown = doc.strands.find((s) => s.id === strand.id)?.head;
  const finish = useShot((s) => s.finish);
  const edit = useShot((s) => s.edit);
  const change = useShot((s) => s.change);
  const frame = useShot((s) => s.frame);
  const chosen = useShot((s) => s.shape);
  const drawing = useShot((s) => (s.tool?.type === 'draw' ? s.tool.with : undefined));
  const file = useRef<HTMLInputElement>(null);
  const drawn = (shown?.type === 'shapes' ? shown : head).shapes.find((s) => s.id === chosen);
  const shape = drawn && shapeOn(doc, drawn, frame);
  const draw = (tool: DrawTool) =>
    change(
      drawing === tool
        ? { tool: undefined }
        : { tool: { type: 'draw', with: tool, strand: strand.id }, points: [] },
    );
  const readSvg = async (given: File) => {
    try {
      const paths = fromSvg(await given.text());
      const free = freeShapeId(finish, strand.id);
      const start = Number(free.split('-').pop());
      edit(
        addShapes(
          strand.id,
          paths.map(({ name, points, ...rest }, i) => newShape(`shape-${start + i}`, name, points, rest)),
        ),
      );
    } catch (error) {
      toast.error(`${given.name}: ${(error as Error).message}`);
    }
  };
  const writeSvg = () => {
    const text = toSvg(
      shot,
      head.shapes.map((s) => ({ ...s, points: transformedPath(shapeOn(finish, s, frame)) })),
    );
    saveFile(`${strand.name}.${frame}.svg`, text, 'image/svg+xml');
  };
  return (
    <section className="grid gap-1.5 border-b border-line px-4 py-2.5 text-[13px]" aria-label={t`Shapes`}>
      <div className="flex items-center">
        <span className="mr-auto font-semibold text-secondary">{t`Shapes`}</span>
        {(Object.keys(drawTools) as DrawTool[]).map((tool) => (
          <IconButton
            key={tool}
            icon={icons[tool]}
            label={t`Draw: ${drawTools[tool].toLowerCase()}`}
            pressed={drawing === tool}
            onClick={() => draw(tool)}
          />
        ))}
        <IconButton icon={Upload} label={t`Import paths from SVG`} onClick={() => file.current?.click()} />
        <IconButton
          icon={Download}
          label={t`Export the paths of this frame as SVG`}
          disabled={head.shapes.length === 0}
          onClick={writeSvg}
        />
        <input
          ref={file}
          type="file"
          accept=".svg,image/svg+xml"
          className="hidden"
          aria-label={t`SVG file`}
          onChange={(e) => {
            const [given] = e.target.files ?? [];
            if (given) readSvg(given);
            e.target.value = '';
          }}
        />
      </div>
      {head.shapes.length === 0 && (
        <p className="text-quiet">{t`Choose a tool and draw on the picture. What is inside is the matte.`}</p>
      )}
      <ol className="grid gap-0.5" aria-label={t`Drawn shapes`}>
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
            {s.animation && <Diamond size={11} className="text-secondary" aria-label={t`has keys`} />}
            <select
              className="select select-xs w-24"
              aria-label={t`Operation of ${s.name}`}
              value={s.operation}
              onChange={(e) =>
                edit((finish) =>
                  changeShape(finish, strand.id, s.id, { operation: e.target.value as Shape['operation'] }),
                )
              }
            >
              <Options of={sorts} />
            </select>
            <IconButton
              icon={s.hidden ? EyeOff : Eye}
              label={s.hidden ? t`Show ${s.name}` : t`Hide ${s.name}`}
              pressed={s.hidden}
              onClick={() =>
                edit((finish) =>
                  changeShape(finish, strand.id, s.id, { hidden: s.hidden ? undefined : true }),
                )
              }
            />
          </li>
        ))}
      </ol>
      {shape && <ShapeFields shape={shape} strand={strand} count={head.shapes.length} shot={shot} />}
    </section>
  );
}
