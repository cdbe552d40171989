import { ChevronDown, ChevronRight, Eye, EyeOff } from 'lucide-react';
import { useState } from 'react';
import type { ShotDetail } from '@/api/shots';
import { previewed, useShot } from '@/browser/session/store';
import { layerAddress } from '@/core/finish/animated';
import type { StackHead, Strand } from '@/core/finish/finish';
import { addLayer, setLayer } from '@/core/finish/layer-edits';
import { IconButton } from '../parts/IconButton';
import { t } from '../words/words';
import { AnimatedField } from './AnimatedField';
import { LayerFields } from './LayerFields';

/** Layers of a stack, the uppermost first, as one sees them; one is opened for all that it has. */
export function LayersHead({ strand, head, shot }: { strand: Strand; head: StackHead; shot: ShotDetail }) {
  const edit = useShot((s) => s.edit);
  const shown = useShot(previewed).strands.find((s) => s.id === strand.id)?.head;
  const [open, setOpen] = useState<number | null>(null);
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
            const { media, pass } = pictures[Number(e.target.value)];
            setOpen(head.layers.length);
            edit(addLayer(strand.id, media, pass.name));
          }}
        >
          <option value="">{t`Add a layer…`}</option>
          {pictures.map(({ media, pass }, i) => (
            <option key={`${media}/${pass.name}`} value={i}>
              {pass.name ? `${media} ${pass.label}` : media}
            </option>
          ))}
        </select>
      </div>
      <ol className="mt-1 grid gap-0.5">
        {layers
          .map((layer, index) => ({ layer, index }))
          .reverse()
          .map(({ layer, index }) => (
            <li key={index} className={open === index ? 'rounded bg-base-200 pb-2' : ''}>
              <div className="flex items-center gap-1">
                <IconButton
                  icon={layer.show ? Eye : EyeOff}
                  label={layer.show ? t`Hide ${layer.media}` : t`Show ${layer.media}`}
                  pressed={!layer.show}
                  onClick={() => edit((finish) => setLayer(finish, strand.id, index, { show: !layer.show }))}
                />
                <div className="min-w-0 flex-1">
                  <AnimatedField
                    of={layerAddress(strand.id, layer, index)}
                    valueKey="opacity"
                    name={layer.media}
                    shot={shot}
                  />
                </div>
                <IconButton
                  icon={open === index ? ChevronDown : ChevronRight}
                  label={open === index ? t`Close ${layer.media}` : t`Open ${layer.media}`}
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
