import { Lightbulb } from 'lucide-react';
import { useMemo } from 'react';
import type { ShotDetail } from '@/api/shots';
import { useShot, useShotStore } from '@/browser/session/store';
import type { Finding } from '@/core/advice/advice';
import { adviceOn } from '@/core/advice/registry';
import { dismiss } from '@/core/finish/edits';
import { FinishError } from '@/core/finish/finish';
import { Dropdown } from '../parts/Dropdown';
import { chooseOnPicture } from '../sheet/fields/choose-on-picture';
import { t } from '../words/words';

/** Findings about the finish: their number, and each with its place and its remedy. */
export function AdviceMenu({ shot }: { shot: ShotDetail }) {
  const finish = useShot((s) => s.finish);
  const frame = useShot((s) => s.frame);
  const noticed = useShot((s) => s.noticed);
  const change = useShot((s) => s.change);
  const edit = useShot((s) => s.edit);
  const editing = useShot((s) => s.editing);
  const store = useShotStore();
  const findings = useMemo((): Finding[] => {
    const passes = Object.fromEntries(shot.media.map((m) => [m.name, m.passes]));
    const frames = Object.fromEntries(
      shot.media.map((m) => [
        m.name,
        // What is held or empty is no missing frame.
        m.gaps === 'missing' ? m.frames.filter((f) => f.state !== 'failed').map((f) => f.frame) : [],
      ]),
    );
    try {
      return adviceOn(finish, { ...noticed, passes, frames, frame }, editing);
    } catch (error) {
      // A fix that the document would refuse is no reason to show nothing else.
      if (error instanceof FinishError) return [];
      throw error;
    }
  }, [finish, frame, noticed, shot, editing]);
  if (findings.length === 0) return null;
  return (
    <Dropdown
      className="mr-2"
      summary={
        <summary className="btn btn-ghost btn-xs gap-1 text-secondary" data-testid="advice">
          <Lightbulb size={13} /> {t`${findings.length} advice`}
        </summary>
      }
    >
      <ul className="dropdown-content z-30 mt-2 grid max-h-[70vh] w-96 gap-3 overflow-y-auto rounded-box border border-line bg-base-200 p-3 text-[13px] shadow-xl">
        {findings.map((f) => (
          <li key={f.key} data-advice={f.key} className="grid gap-1">
            <button
              type="button"
              className="cursor-pointer text-left font-medium hover:text-primary"
              onClick={() => change({ selected: f.at })}
            >
              {f.title}
            </button>
            <p className="text-xs text-quiet">{f.remedy}</p>
            <div className="flex flex-wrap gap-2" data-stays>
              {f.choose && (
                <button
                  type="button"
                  className="btn btn-xs"
                  onClick={() => chooseOnPicture(store, f.choose!.strand)}
                >
                  {f.choose.label}
                </button>
              )}
              {[f.fix, f.otherFix].map(
                (fix) =>
                  fix && (
                    <button key={fix.label} type="button" className="btn btn-xs" onClick={() => edit(fix)}>
                      {fix.label.replace(/^./, (c) => c.toUpperCase())}
                    </button>
                  ),
              )}
              <button
                type="button"
                className="btn btn-ghost btn-xs text-quiet"
                onClick={() => edit(dismiss(f.key))}
              >
                {t`Dismiss for this finish`}
              </button>
            </div>
          </li>
        ))}
      </ul>
    </Dropdown>
  );
}
