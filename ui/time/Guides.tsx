import { Plus, Trash2 } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import { toast } from 'sonner';
import type { ShotDetail } from '@/api/shots';
import { useEngine } from '@/browser/engine/use-engine';
import { previewed, useRefusing, useShot, useShotStore } from '@/browser/session/store';
import { findStep, stepName } from '@/core/finish/finish';
import {
  addGuide,
  follow,
  measuredGuide,
  removeGuide,
  renameGuide,
  smoothGuide,
} from '@/core/finish/guide-edits';
import { trackOf } from '@/core/finish/keys';
import { stepSpec } from '@/core/steps/registry';
import { placeOn } from '@/core/time/guides';
import { formatNumber } from '../parts/format-value';
import { IconButton } from '../parts/IconButton';
import { TextField } from '../parts/TextField';

type Measuring = { guide: string; done: number; of: number };

/** Places that move over the picture: set by hand on it, or measured of a strand, and what follows them. */
export function Guides({ shot }: { shot: ShotDetail }) {
  const finish = useShot((s) => s.finish);
  const shown = useShot(previewed);
  const frame = useShot((s) => s.frame);
  const edit = useShot((s) => s.edit);
  const refusing = useRefusing();
  const selected = useShot((s) => s.selected);
  const store = useShotStore();
  const started = useEngine();
  const [measuring, setMeasuring] = useState<Measuring>();
  const stopped = useRef(false);
  // Whoever leaves wants it no more.
  useEffect(
    () => () => {
      stopped.current = true;
    },
    [],
  );
  const guides = shown.guides ?? [];
  const found = findStep(finish, selected ?? '');
  const points = found
    ? (stepSpec(found.step.type)?.handles ?? []).flatMap((h) => (h.type === 'point' && !h.from ? [h] : []))
    : [];

  const measure = async (guide: string, strand: string) => {
    if (!started || !strand) return;
    stopped.current = false;
    const doc = store.getState().finish;
    const frames = Array.from({ length: shot.last - shot.first + 1 }, (_, i) => shot.first + i);
    // The last words of a job may come after its result.
    let over = false;
    const tell = (done: number) => {
      if (!over) setMeasuring({ guide, done, of: frames.length });
    };
    tell(0);
    const point = { strand, after: 'end' };
    const places = await started.engine
      .middles(doc, point, frames, tell)
      .catch((error) => void toast.error((error as Error).message));
    over = true;
    setMeasuring(undefined);
    if (!places || stopped.current) return;
    if (!edit((now) => measuredGuide(now, guide, point, places))) return;
    const gone = frames.length - places.length;
    if (gone > 0)
      toast.warning(
        `On ${gone === 1 ? 'one frame' : `${gone} frames`} there is nothing to measure: they have no key.`,
      );
  };

  return (
    <div className="grid min-h-0 flex-1 grid-cols-[minmax(0,1fr)_18rem] gap-6 overflow-y-auto px-4 py-2 text-xs">
      <div className="grid content-start gap-1.5">
        {guides.length === 0 && (
          <p className="py-4 text-sm text-quiet">
            A guide is a place that moves over the picture. Set it frame by frame with its ring on the
            picture, or measure it of a strand: the middle of what a matte covers, or of a picture’s light.
            Centres of steps can follow it.
          </p>
        )}
        {guides.map((g) => {
          const { x, y } = placeOn(g, frame);
          return (
            <div
              key={g.id}
              role="group"
              aria-label={`Guide ${g.name}`}
              className="flex items-center gap-3 border-b border-line pb-1.5"
            >
              <span className="w-36">
                <TextField
                  label={`Name of the guide ${g.name}`}
                  className="input input-xs w-full"
                  value={g.name}
                  onCommit={(name) => refusing((doc) => renameGuide(doc, g.id, name))}
                />
              </span>
              <span className="w-32 text-quiet" data-guide-place>
                {formatNumber(x)}, {formatNumber(y)} px
              </span>
              <span className="w-16 text-quiet">{g.x.length === 1 ? '1 key' : `${g.x.length} keys`}</span>
              {measuring?.guide === g.id ? (
                <span className="flex flex-1 items-center gap-2" role="status">
                  {measuring.done} of {measuring.of} frames
                  <progress
                    className="progress progress-primary w-28"
                    value={measuring.done}
                    max={measuring.of}
                  />
                  <button
                    type="button"
                    className="btn btn-ghost btn-xs"
                    onClick={() => {
                      stopped.current = true;
                      started?.engine.stopMiddles().catch(() => {});
                      setMeasuring(undefined);
                    }}
                  >
                    Stop
                  </button>
                </span>
              ) : (
                <select
                  className="select select-xs w-44"
                  aria-label={`Measure ${g.name} of a strand`}
                  title="On each frame the middle of what the strand covers, or of its light."
                  disabled={measuring !== undefined}
                  value={g.source?.strand ?? ''}
                  onChange={(e) => measure(g.id, e.target.value)}
                >
                  <option value="">By hand</option>
                  {finish.strands.map((s) => (
                    <option key={s.id} value={s.id}>
                      Measured of {s.name}
                    </option>
                  ))}
                </select>
              )}
              <span className="ml-auto flex items-center">
                <button
                  type="button"
                  className="btn btn-ghost btn-xs font-normal"
                  disabled={g.x.length < 5}
                  title="Makes its way calmer. Needs five keys."
                  onClick={() => edit((doc) => smoothGuide(doc, g.id))}
                >
                  Smooth
                </button>
                <IconButton
                  icon={Trash2}
                  label={`Remove the guide ${g.name}`}
                  onClick={() => edit((doc) => removeGuide(doc, g.id))}
                />
              </span>
            </div>
          );
        })}
        <button
          type="button"
          className="btn btn-xs btn-soft w-fit"
          onClick={() => edit((doc) => addGuide(doc, `Guide ${guides.length + 1}`, { x: 0, y: 0 }, frame))}
        >
          <Plus size={13} /> Add a guide
        </button>
      </div>
      <div className="grid content-start gap-1.5 border-l border-line pl-4">
        {found && points.length > 0 ? (
          points.map((h) => (
            <label key={h.name} className="flex items-center gap-2">
              <span className="min-w-0 flex-1 truncate">
                <span className="text-quiet">{stepName(found.step)} › </span>
                {h.name}
              </span>
              <select
                className="select select-xs w-36"
                aria-label={`${h.name} follows`}
                value={trackOf(finish, found.step.id, h.x)?.follows?.guide ?? ''}
                onChange={(e) =>
                  edit((doc) => follow(doc, found.step.id, { x: h.x, y: h.y }, e.target.value || undefined))
                }
              >
                <option value="">Follows nothing</option>
                {guides.map((g) => (
                  <option key={g.id} value={g.id}>
                    Follows {g.name}
                  </option>
                ))}
              </select>
            </label>
          ))
        ) : (
          <p className="text-quiet">Select a step with a centre on the picture, to let it follow a guide.</p>
        )}
      </div>
    </div>
  );
}
