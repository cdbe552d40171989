import { ArrowDown, ArrowUp, Copy, CornerDownRight, Link2, Trash2, Undo2 } from 'lucide-react';
import type { ShotDetail } from '@/api/shots';
import { useShot } from '@/browser/session/store';
import { atRest, layerAddress } from '@/core/finish/animated';
import type { Edit } from '@/core/finish/edit';
import type { Strand } from '@/core/finish/finish';
import type { Layer } from '@/core/finish/heads';
import {
  duplicateLayer,
  followLayer,
  layerName,
  moveLayer,
  pullLayerOut,
  putLayerBack,
  removeLayer,
  setLayer,
} from '@/core/finish/layer-edits';
import { joinModes } from '@/core/kernels/join';
import { layerModes } from '@/core/kernels/stack';
import { IconButton } from '../../parts/IconButton';
import { Options } from '../../parts/Options';
import { Toggle } from '../../parts/Toggle';
import { t } from '../../words/words';
import { AnimatedField } from '../fields/AnimatedField';
import { MediaFields } from './MediaFields';

const modeNames = Object.fromEntries(layerModes.map((m) => [m, joinModes[m]]));

type Props = {
  strand: Strand;
  index: number;
  layer: Layer;
  shot: ShotDetail;
  onCommit(edit: Edit): void;
  onMoved(by: number): void;
  onGone(): void;
};

/** The values of a layer: blend mode, opacity, transform, and how its frames are read. */
export function LayerFields({ strand, index, layer, shot, onCommit, onMoved, onGone }: Props) {
  const finish = useShot((s) => s.finish);
  const change = useShot((s) => s.change);
  const count = strand.head.type === 'stack' ? strand.head.layers.length : 0;
  const media = shot.media.find((m) => m.name === layer.media);
  // A layer that follows another one shows, and changes, the transform of that.
  const moved = layer.follows ?? layerAddress(strand.id, layer, index);
  const others = finish.strands.flatMap((s) =>
    s.head.type === 'stack'
      ? s.head.layers.flatMap((l, i) =>
          (s.id === strand.id && i === index) || l.follows !== undefined
            ? []
            : [
                {
                  strand: s.id,
                  index: i,
                  id: l.id,
                  name: s.id === strand.id ? layerName(finish, l) : t`${layerName(finish, l)} in ${s.name}`,
                },
              ],
        )
      : [],
  );
  const followed = others.findIndex((o) => o.id !== undefined && o.id === layer.follows);
  const move = (by: number) => {
    onMoved(by);
    onCommit(moveLayer(finish, strand.id, index, by));
  };
  return (
    <div className="grid gap-1.5 px-2">
      <div className="flex items-center">
        <IconButton
          icon={ArrowUp}
          label={t`Layer up`}
          disabled={index === count - 1}
          onClick={() => move(1)}
        />
        <IconButton icon={ArrowDown} label={t`Layer down`} disabled={index === 0} onClick={() => move(-1)} />
        {layer.from ? (
          <IconButton
            icon={Undo2}
            label={t`Put back into the stack`}
            onClick={() => onCommit(putLayerBack(finish, strand.id, index))}
          />
        ) : (
          <button
            type="button"
            className="btn btn-xs btn-soft mx-1 font-normal"
            title={t`For steps on this layer alone: it becomes a strand, and stays in its place in the stack.`}
            onClick={() => {
              const pulled = pullLayerOut(finish, strand.id, index);
              onCommit(pulled.edit);
              change({ selected: pulled.strand });
            }}
          >
            <CornerDownRight size={13} /> {t`Pull out as a strand`}
          </button>
        )}
        <IconButton
          icon={Copy}
          label={t`Duplicate the layer`}
          onClick={() => onCommit(duplicateLayer(finish, strand.id, index, false))}
        />
        <IconButton
          icon={Link2}
          label={t`Following copy of the layer`}
          onClick={() => onCommit(duplicateLayer(finish, strand.id, index, true))}
        />
        <span className="ml-auto" />
        <IconButton
          icon={Trash2}
          label={t`Remove the layer`}
          disabled={count === 1}
          onClick={() => {
            onGone();
            onCommit(removeLayer(finish, strand.id, index));
          }}
        />
      </div>
      {layer.from && (
        <p className="text-xs text-secondary">
          {t`It is the strand`}{' '}
          <button
            type="button"
            className="cursor-pointer underline"
            onClick={() => change({ selected: layer.from!.strand })}
          >
            {layerName(finish, layer)}
          </button>
          {t`: its steps change this layer alone.`}
        </p>
      )}
      <Toggle
        label={t`Solo`}
        title={t`While any layer is solo, only solo layers are shown.`}
        checked={layer.solo ?? false}
        onChange={(on) => onCommit(setLayer(finish, strand.id, index, { solo: on || undefined }))}
      />
      <label className="flex items-center gap-2" title={t`How the layer is combined with the layers below.`}>
        <span className="whitespace-nowrap">{t`Blend mode`}</span>
        <select
          className="select select-xs ml-auto w-36"
          value={layer.mode ?? 'over'}
          onChange={(e) =>
            onCommit(setLayer(finish, strand.id, index, { mode: e.target.value as Layer['mode'] }))
          }
        >
          <Options of={modeNames} />
        </select>
      </label>
      <label className="flex items-center gap-2" title={t`Uses the transform of another layer.`}>
        {t`Follows`}
        <select
          className="select select-xs ml-auto w-36"
          value={followed}
          disabled={others.length === 0}
          onChange={(e) => onCommit(followLayer(finish, strand.id, index, others[Number(e.target.value)]))}
        >
          <option value={-1}>{t`No other`}</option>
          {others.map((o, i) => (
            <option key={`${o.strand}/${o.index}`} value={i}>
              {o.name}
            </option>
          ))}
        </select>
      </label>
      {Object.keys(atRest).map((key) => (
        <AnimatedField key={key} of={moved} valueKey={key} shot={shot} />
      ))}
      {media && <MediaFields media={media} shot={shot} className="grid gap-1.5 pt-1" />}
    </div>
  );
}
