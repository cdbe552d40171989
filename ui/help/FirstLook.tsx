import { memo, useEffect, useState } from 'react';
import type { ShotDetail } from '@/api/shots';
import { useShot } from '@/browser/session/store';
import { linkPass } from '@/core/finish/edits';
import { leadingPass } from '@/core/finish/finish';
import { setValue } from '@/core/finish/value-edits';
import { stepSpec } from '@/core/steps/registry';
import { t } from '../words/words';

const seen = 'zafiro-first-look';

type Stop = { text: string; offers: string; act(): void };

/**
 * A first look around, on a shot that has a light step and a pass of emitted light: a few real edits, each of which can be undone, and
 * all of which can be skipped. It comes once.
 */
export const FirstLook = memo(function FirstLook({ shot }: { shot: ShotDetail }) {
  const edit = useShot((s) => s.edit);
  const finish = useShot((s) => s.finish);
  const compare = useShot((s) => s.compare);
  const change = useShot((s) => s.change);
  const [at, setAt] = useState(-1);
  const media = leadingPass(finish)?.media;
  const emission = shot.media.find((m) => m.name === media)?.passes.find((p) => p.kind === 'emission');
  const step = finish.strands
    .find((s) => s.id === finish.main)
    ?.steps.find((t) => stepSpec(t.type)?.stage === 'light' && stepSpec(t.type)?.values.show);
  const ready = Boolean(media && emission && step);
  // biome-ignore lint/correctness/useExhaustiveDependencies: once, as soon as there is something to show
  useEffect(() => {
    if (at < 0 && ready && !step!.slots.light && !localStorage.getItem(seen)) setAt(0);
  }, [ready]);
  const end = () => {
    localStorage.setItem(seen, '1');
    setAt(99);
  };
  if (!media || !emission || !step) return null;
  const name = step.name ?? stepSpec(step.type)!.name;
  const stops: Stop[] = [
    {
      text: t`${name} takes its light from everything bright, so the sunlit floor shines like the lamps. This render has a pass of the light that lamps emit: let the step use it instead.`,
      offers: t`Take the light from ${emission.label}`,
      act: () => {
        change({ selected: step.id });
        edit((finish) =>
          linkPass(finish, step.id, 'light', { type: 'pass', media, pass: emission.name }, emission.label),
        );
      },
    },
    {
      text: t`The board now has a second strand, linked to the step. Look at only the light that the step adds.`,
      offers: t`Show only the added light`,
      act: () => edit((finish) => setValue(finish, step.id, 'show', 'light')),
    },
    {
      text: t`Only the lamps and the sky shine now. Go back to the result and compare it with the frame as it came in.`,
      offers: t`Show the result, with a wipe`,
      act: () => {
        edit((finish) => setValue(finish, step.id, 'show', 'result'));
        change({ compare: { ...compare, mode: 'wipe', with: 'input' } });
      },
    },
    {
      text: t`Drag the line across the picture. Ctrl Z undoes any edit, ? shows all keys, and a click on the picture lists what each step does to that pixel.`,
      offers: t`Done`,
      act: () => change({ compare: { ...compare, mode: 'off' } }),
    },
  ];
  const stop = stops[at];
  if (!stop) return null;
  return (
    <section
      className="absolute bottom-3 left-3 z-10 grid w-88 gap-3 rounded-box border border-secondary/60 bg-base-100 p-4 text-[13px] shadow-xl"
      aria-label={t`First look`}
    >
      <p>{stop.text}</p>
      <div className="flex items-center gap-2">
        <button
          type="button"
          className="btn btn-sm btn-secondary"
          onClick={() => {
            stop.act();
            if (at === stops.length - 1) end();
            else setAt(at + 1);
          }}
        >
          {stop.offers}
        </button>
        {at < stops.length - 1 && (
          <button type="button" className="btn btn-ghost btn-sm text-quiet" onClick={end}>
            {t`Skip`}
          </button>
        )}
        <span className="ml-auto text-xs whitespace-nowrap text-quiet">{t`${at + 1} of ${stops.length}`}</span>
      </div>
    </section>
  );
});
