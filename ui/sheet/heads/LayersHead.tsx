import { ChevronDown, ChevronRight, Eye, EyeOff, GripVertical } from 'lucide-react';
import { useMemo, useRef, useState } from 'react';
import type { ShotDetail } from '@/api/shots';
import { previewed, useShot } from '@/browser/session/store';
import { layerAddress } from '@/core/finish/animated';
import type { StackHead, Strand } from '@/core/finish/finish';
import { kindAt } from '@/core/finish/flow';
import { pointKey, pointsAfter } from '@/core/finish/graph';
import { addLayer, addStrandLayer, layerName, moveLayer, setLayer } from '@/core/finish/layer-edits';
import { IconButton } from '../../parts/IconButton';
import { useDrag } from '../../parts/use-drag';
import { t } from '../../words/words';
import { AnimatedField } from '../fields/AnimatedField';
import { LayerFields } from './LayerFields';

/** Layers of a stack, the uppermost first, as one sees them; one is opened for all that it has. */
export function LayersHead({ strand, head, shot }: { strand: Strand; head: StackHead; shot: ShotDetail }) {
  const edit = useShot((s) => s.edit);
  const shown = useShot(previewed).strands.find((s) => s.id === strand.id)?.head;
  const [open, setOpen] = useState<number | null>(null);
  const finish = useShot((s) => s.finish);
  const others = useMemo(() => {
    const after = pointsAfter(finish, pointKey(strand.id, 0));
    return finish.strands
      .filter((s) => s.id !== strand.id && kindAt(finish, s.id, 'end') === 'picture')
      .map((s) => ({ id: s.id, name: s.name, circle: after.has(pointKey(s.id, s.steps.length)) }));
  }, [finish, strand.id]);
  const list = useRef<HTMLOListElement>(null);
  /** The layer that is dragged, and where it would go. */
  const [carried, setCarried] = useState<{ index: number; to: number }>();
  const under = (y: number, index: number): number => {
    const rows = [...(list.current?.children ?? [])] as HTMLElement[];
    const row = rows.find((node) => y < node.getBoundingClientRect().bottom) ?? rows.at(-1);
    return Number(row?.dataset.layer ?? index);
  };
  const drag = useDrag<number>({
    start: (e) => Number((e.currentTarget as HTMLElement).dataset.grip),
    preview: (index, hand) => hand.moved && setCarried({ index, to: under(hand.clientY, index) }),
    commit: (index, hand) => {
      setCarried(undefined);
      const to = under(hand.clientY, index);
      if (!hand.moved || to === index) return;
      setOpen(open === index ? to : null);
      edit((doc) => moveLayer(doc, strand.id, index, to - index));
    },
    cancel: () => setCarried(undefined),
  });
  const layers = shown?.type === 'stack' ? shown.layers : head.layers;
  const pictures = shot.media.flatMap((m) =>
    m.passes.filter((p) => p.kind === 'picture').map((pass) => ({ media: m.name, pass })),
  );
  return (
    <section className="border-b border-line px-4 py-2.5 text-[13px]" aria-label={t`Layers`}>
      <div className="flex items-center">
        <span className="mr-auto font-semibold text-secondary">{t`Layers`}</span>
        <select
          className="select select-xs w-32"
          aria-label={t`Add a layer`}
          value=""
          onChange={(e) => {
            const [type, which] = e.target.value.split(':');
            setOpen(head.layers.length);
            if (type === 'strand') return edit((doc) => addStrandLayer(doc, strand.id, which));
            const { media, pass } = pictures[Number(which)];
            edit(addLayer(strand.id, media, pass.name));
          }}
        >
          <option value="">{t`Add a layer…`}</option>
          {pictures.map(({ media, pass }, i) => (
            <option key={`${media}/${pass.name}`} value={`pass:${i}`}>
              {pass.name ? `${media} ${pass.label}` : media}
            </option>
          ))}
          {others.length > 0 && (
            <optgroup label={t`Strands`}>
              {others.map(({ id, name, circle }) => (
                <option key={id} value={`strand:${id}`} disabled={circle}>
                  {circle ? t`${name}: would make a circle` : name}
                </option>
              ))}
            </optgroup>
          )}
        </select>
      </div>
      <p className="mt-1 text-xs text-quiet">
        {t`Open a layer to place it, or to pull it out as a strand for steps on it alone.`}
      </p>
      <ol ref={list} className="mt-1 grid gap-0.5">
        {layers
          .map((layer, index) => ({ layer, index }))
          .reverse()
          .map(({ layer, index }) => (
            <li
              key={index}
              data-layer={index}
              className={`${open === index ? 'rounded bg-base-200 pb-2' : ''} ${carried?.to === index && carried.index !== index ? 'outline outline-primary' : ''} ${carried?.index === index ? 'opacity-50' : ''}`}
            >
              <div className="flex items-center gap-1">
                <button
                  type="button"
                  className="cursor-grab touch-none p-1 text-quiet"
                  data-grip={index}
                  aria-label={t`Move ${layerName(finish, layer)}`}
                  title={t`Drag to reorder, or use the arrows`}
                  onPointerDown={drag}
                  onKeyDown={(e) => {
                    const by = e.key === 'ArrowUp' ? 1 : e.key === 'ArrowDown' ? -1 : 0;
                    if (by === 0) return;
                    e.preventDefault();
                    e.nativeEvent.stopImmediatePropagation();
                    edit((doc) => moveLayer(doc, strand.id, index, by));
                  }}
                >
                  <GripVertical size={14} />
                </button>
                <IconButton
                  icon={layer.show ? Eye : EyeOff}
                  label={
                    layer.show ? t`Hide ${layerName(finish, layer)}` : t`Show ${layerName(finish, layer)}`
                  }
                  pressed={!layer.show}
                  onClick={() => edit((finish) => setLayer(finish, strand.id, index, { show: !layer.show }))}
                />
                <div className="min-w-0 flex-1">
                  <AnimatedField
                    of={layerAddress(strand.id, layer, index)}
                    valueKey="opacity"
                    name={layerName(finish, layer)}
                    shot={shot}
                  />
                </div>
                <IconButton
                  icon={open === index ? ChevronDown : ChevronRight}
                  label={
                    open === index
                      ? t`Close ${layerName(finish, layer)}`
                      : t`Open ${layerName(finish, layer)}`
                  }
                  onClick={() => setOpen(open === index ? null : index)}
                />
              </div>
              {open === index && (
                <LayerFields
                  strand={strand}
                  index={index}
                  layer={layer}
                  shot={shot}
                  onCommit={edit}
                  onMoved={(by) => setOpen(Math.max(0, Math.min(layers.length - 1, index + by)))}
                  onGone={() => setOpen(null)}
                />
              )}
            </li>
          ))}
      </ol>
    </section>
  );
}
