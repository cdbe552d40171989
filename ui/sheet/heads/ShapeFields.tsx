import { ChevronDown, ChevronUp, ClipboardPaste, Copy, Trash2 } from 'lucide-react';
import { toast } from 'sonner';
import type { ShotDetail } from '@/api/shots';
import { useRefusing, useShot } from '@/browser/session/store';
import { shapeAddress } from '@/core/finish/animated';
import type { Strand } from '@/core/finish/finish';
import { shapeValues } from '@/core/finish/head-values';
import type { Shape } from '@/core/finish/heads';
import { changeShape, moveShape, removeShape, setPath } from '@/core/finish/shape-edits';
import type { PathPoint } from '@/core/math/path';
import { IconButton } from '../../parts/IconButton';
import { Options } from '../../parts/Options';
import { TextField } from '../../parts/TextField';
import { t } from '../../words/words';
import { AnimatedField } from '../fields/AnimatedField';
import { NumberField } from '../fields/NumberField';

const rules = { nonzero: t`Nonzero`, evenodd: 'Even-odd' } as const;

/** A path taken from one frame or shape for another. */
let copied: readonly PathPoint[] | undefined;

const atPoint = {
  ...shapeValues.feather,
  name: t`At point`,
  description: t`Softness at the chosen point, beside that of the shape.`,
};

type Props = { shape: Shape; strand: Strand; count: number; shot: ShotDetail };

/** Fields of a drawn shape as it is on the frame: its order, edge and transform. */
export function ShapeFields({ shape, strand, count, shot }: Props) {
  const finish = useShot((s) => s.finish);
  const edit = useShot((s) => s.edit);
  const change = useShot((s) => s.change);
  const frame = useShot((s) => s.frame);
  const points = useShot((s) => s.points);
  const animates = useShot((s) => s.animates);
  const refusing = useRefusing();
  const at = strand.head.type === 'shapes' ? strand.head.shapes.findIndex((s) => s.id === shape.id) : 0;
  const { path } = shape;
  const of = shapeAddress(strand.id, shape.id);
  const [chosen] = points;
  /** Softness of the chosen points. */
  const softened = (feather: number) =>
    setPath(
      finish,
      strand.id,
      shape.id,
      frame,
      path.map((p, i) => (points.includes(i) ? { ...p, feather } : p)),
      animates,
    );
  return (
    <div className="grid gap-1.5 border-t border-line pt-2">
      <div className="flex items-center">
        <span className="mr-auto w-28">
          <TextField
            label={t`Name of the shape`}
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
          label={t`Earlier`}
          disabled={at === 0}
          onClick={() => edit((finish) => moveShape(finish, strand.id, shape.id, -1))}
        />
        <IconButton
          icon={ChevronDown}
          label={t`Later`}
          disabled={at === count - 1}
          onClick={() => edit((finish) => moveShape(finish, strand.id, shape.id, 1))}
        />
        <IconButton
          icon={Copy}
          label={t`Copy the path of this frame`}
          onClick={() => {
            copied = path;
            toast(t`Path of ${shape.name} on frame ${frame} copied.`);
          }}
        />
        <IconButton
          icon={ClipboardPaste}
          label={t`Paste the copied path here, with a key`}
          onClick={() =>
            copied && edit((finish) => setPath(finish, strand.id, shape.id, frame, copied!, true))
          }
        />
        <IconButton
          icon={Trash2}
          label={t`Remove the shape`}
          onClick={() => {
            edit((finish) => removeShape(finish, strand.id, shape.id));
            change({ shape: undefined, points: [] });
          }}
        />
      </div>
      <label className="flex items-center">
        <span className="mr-auto" title={t`What is filled where the path crosses itself.`}>
          {t`Fill rule`}
        </span>
        <select
          className="select select-xs w-28"
          aria-label={t`Fill rule`}
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
      {Object.keys(shapeValues).map((key) => (
        <AnimatedField key={key} of={of} valueKey={key} shot={shot} />
      ))}
      {chosen !== undefined && path[chosen] ? (
        <NumberField
          id="point-feather"
          spec={atPoint}
          value={path[chosen].feather ?? 0}
          onPreview={(v) => change({ preview: v === undefined ? undefined : softened(v) })}
          onCommit={(v) => edit(softened(v))}
        />
      ) : (
        <p className="text-xs text-quiet">{t`Click a point of the path to give it a softness of its own.`}</p>
      )}
    </div>
  );
}
