import { useEffect, useState } from 'react';
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
export function FirstLook({ shot }: { shot: ShotDetail }) {
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
      text: t`${name} takes from everything that is bright: the sun on the floor shines like the lamps. The render says apart what glows by itself.`,
      offers: t`Take the light from ${emission.label}`,
      act: () => {
        change({ selected: step.id });
        edit((finish) =>
          linkPass(finish, step.id, 'light', { type: 'pass', media, pass: emission.name }, emission.label),
        );
      },
    },
    {
      text: t`A second strand stands on the board now, with a line to the step. Look at what the step adds, alone.`,
      offers: t`Show the added light alone`,
      act: () => edit((finish) => setValue(finish, step.id, 'show', 'light')),
    },
    {
      text: t`Only lamps and sky are left. Lay it back, and compare the result with the frame as it came in.`,
      offers: t`Show the result, with a wipe`,
      act: () => {
        edit((finish) => setValue(finish, step.id, 'show', 'result'));
        change({ compare: { ...compare, mode: 'wipe', with: 'input' } });
      },
    },
    {
      text: t`Drag the line. Every edit can be undone by its name, ? shows all keys, and a click on the picture lists a pixel’s journey.`,
      offers: t`Good`,
      act: () => change({ compare: { ...compare, mode: 'off' } }),
    },
  ];
  const stop = stops[at];
  if (!stop) return null;
  return (
    <section
      className="absolute bottom-3 left-3 z-10 grid w-80 gap-3 rounded-box border border-secondary/60 bg-base-100 p-4 text-[13px] shadow-xl"
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
        <span className="ml-auto text-xs text-quiet">{t`${at + 1} of ${stops.length}`}</span>
      </div>
    </section>
  );
}
