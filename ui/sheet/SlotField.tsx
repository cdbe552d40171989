import { CornerUpLeft } from 'lucide-react';
import { useId } from 'react';
import { toast } from 'sonner';
import type { ShotDetail } from '@/api/shots';
import { addFromPicture } from '@/browser/add-from-picture';
import { useEngine } from '@/browser/engine/use-engine';
import { useShot, useShotStore } from '@/browser/session/store';
import { linkPass, linkSlot } from '@/core/finish/edits';
import { itemOf } from '@/core/finish/feeds';
import { pointAbove, type Step, type Strand, stepName } from '@/core/finish/finish';
import { kindAt, kindsAlong } from '@/core/finish/flow';
import { type Beginning, matteBeginnings, startForSlot } from '@/core/finish/new-strand';
import { isInput, linksOf, usesAround } from '@/core/finish/uses';
import { aPass, type PassKind } from '@/core/formats/pass-kinds';
import { strandKind } from '@/core/formats/passes';
import type { SlotSpec } from '@/core/steps/define';
import { jump } from '../board/LinkList';
import { t } from '../words/words';

type Props = {
  slotKey: string;
  slot: SlotSpec;
  step: Step;
  strand: Strand;
  shot: ShotDetail;
  /** The kind of pass that is meant for it. */
  pass?: PassKind;
};

/** The source of a slot: the strand itself, or a pass; and how a picture is read as a matte. */
export function SlotField({ slotKey, slot, step, strand, shot, pass: wanted }: Props) {
  const finish = useShot((s) => s.finish);
  const store = useShotStore();
  const edit = useShot((s) => s.edit);
  const engine = useEngine();
  const tap = linksOf(finish, step)[slotKey];
  const tapped = finish.strands.find((s) => s.id === tap?.strand);
  const id = useId();
  const none =
    slotKey === 'mask' || slotKey === 'lightMask'
      ? t`Everywhere`
      : slotKey === 'light'
        ? t`This strand, ${strand.name}`
        : t`None`;
  const as = slot.kind === 'matte' ? ('luminance' as const) : undefined;
  // A bare strand that was made for a slot is named by its pass.
  const value =
    !tap || !tapped
      ? ''
      : tapped.forSlot && tapped.head.type === 'pass' && tapped.steps.length === 0
        ? `pass:${tapped.head.media}/${tapped.head.pass}`
        : `point:${tap.strand}:${tap.after}`;
  const pick = (chosen: string) => {
    if (chosen === '') return edit((finish) => linkSlot(finish, step.id, slotKey, undefined));
    if (chosen.startsWith('point:')) {
      const [, strandId, after] = chosen.split(':');
      return edit((finish) =>
        linkSlot(finish, step.id, slotKey, { strand: strandId, after, ...(as ? { as } : {}) }),
      );
    }
    const beginning = fresh.find((b) => `new:${b.key}` === chosen);
    if (beginning) {
      const started = startForSlot(finish, step.id, slotKey, beginning);
      // The step stays in sight; the new matte is one jump away.
      addFromPicture(store, engine?.engine, () => started.edit, step.id).then((done) => {
        if (!done) return;
        toast(t`${beginning.name} is a strand of its own now.`, {
          action: { label: t`Go there`, onClick: () => jump(store, started.selects) },
        });
      });
      return;
    }
    for (const media of shot.media) {
      const pass = media.passes.find((p) => `pass:${media.name}/${p.name}` === chosen);
      if (!pass) continue;
      const head = { type: 'pass', media: media.name, pass: pass.name } as const;
      return edit((finish) => linkPass(finish, step.id, slotKey, head, pass.label, as, strandKind(pass)));
    }
  };
  const index = strand.steps.indexOf(step);
  const above = {
    strand: strand.id,
    after: pointAbove(strand, index),
    name: strand.name,
  };
  const fresh = slot.kind === 'matte' ? matteBeginnings(shot.media, above) : [];
  const wantsData = slot.kind === 'data';
  // What is inside other recipes is their own.
  const around = usesAround(finish, step.id);
  const places = finish.strands.filter(
    (s) =>
      (s.inside === undefined || around.includes(s.inside)) &&
      kindsAlong(finish, s).some((k) => (k === 'data') === wantsData) &&
      !(s.forSlot && s.steps.length === 0),
  );
  return (
    <div className="grid gap-1.5">
      <div className="flex items-center gap-1 text-[13px]" title={slot.description}>
        <label htmlFor={id} className="min-w-0 flex-1 truncate">
          {slot.name}
        </label>
        {tap && tapped && (
          <button
            type="button"
            className="cursor-pointer p-0.5 text-quiet hover:text-primary"
            aria-label={t`Go to the source of ${slot.name}`}
            title={t`Go to the source (L; Shift L leads back)`}
            onClick={() => jump(store, itemOf(finish, tap).id)}
          >
            <CornerUpLeft size={12} />
          </button>
        )}
        <select
          id={id}
          className={`select select-xs w-44 pr-6 text-xs text-ellipsis ${slot.kind === 'matte' ? 'border-dashed' : ''}`}
          data-slot={slotKey}
          value={value}
          onChange={(e) => pick(e.target.value)}
        >
          <option value="">{none}</option>
          {fresh.length > 0 && (
            <optgroup label={t`A new matte`}>
              {fresh.map((b) => (
                <option key={b.key} value={`new:${b.key}`}>
                  {b.name} {b.description}
                </option>
              ))}
            </optgroup>
          )}
          {places.map((s) => (
            <optgroup key={s.id} label={t`Strand ${s.name}`}>
              <option value={`point:${s.id}:head`}>{t`${s.name}, head`}</option>
              {s.steps
                .filter((other) => !isInput(other))
                .map((other) => (
                  <option key={other.id} value={`point:${s.id}:${other.id}`} disabled={other.id === step.id}>
                    {t`${s.name}, after ${stepName(other)}`}
                  </option>
                ))}
              {s.id !== strand.id && <option value={`point:${s.id}:end`}>{t`${s.name}, end`}</option>}
            </optgroup>
          ))}
          {shot.media.map((m) => (
            <optgroup key={m.id} label={m.name}>
              {m.passes
                .filter((p) => (strandKind(p) === 'data') === wantsData)
                .map((p) => (
                  <option key={p.name} value={`pass:${m.name}/${p.name}`}>
                    {p.label}
                  </option>
                ))}
            </optgroup>
          ))}
        </select>
      </div>
      {wanted && !tap && (
        <NeededPass
          pass={wanted}
          shot={shot}
          onGradient={() => edit((doc) => startForSlot(doc, step.id, slotKey, depthGradient).edit)}
        />
      )}
      {tap && slot.kind === 'matte' && kindAt(finish, tap.strand, tap.after) !== 'matte' && (
        <label className="flex items-center gap-2 text-[13px]">
          {t`Read as matte`}
          <select
            className="select select-xs ml-auto text-xs w-44"
            value={tap.as ?? 'luminance'}
            onChange={(e) => {
              const read = e.target.value as 'alpha' | 'luminance';
              edit((finish) => linkSlot(finish, step.id, slotKey, { ...tap, as: read }));
            }}
          >
            <option value="luminance">{t`Luminance`}</option>
            <option value="alpha">{t`Alpha`}</option>
          </select>
        </label>
      )}
    </div>
  );
}

/** What a slot of a recipe needs that nothing is linked to yet: the pass, where the shot has it, or what could stand in. */
function NeededPass({ pass, shot, onGradient }: { pass: PassKind; shot: ShotDetail; onGradient(): void }) {
  const there = shot.media.some((m) => m.passes.some((p) => p.kind === pass));
  return (
    <p className="text-xs text-secondary">
      {there
        ? t`It needs ${aPass(pass)}. Choose one above.`
        : t`It needs ${aPass(pass)}, which this shot lacks. ${standIns[pass] ?? t`Choose another pass or strand, or leave it empty.`}`}
      {!there && (pass === 'depth' || pass === 'mist') && (
        <button type="button" className="btn btn-xs ml-1" onClick={onGradient}>
          {t`Make a gradient`}
        </button>
      )}
    </p>
  );
}

/** Distances for a picture that has none: the lower, the nearer. */
const depthGradient: Beginning = {
  key: 'depth-gradient',
  name: t`Depth by height`,
  description: '',
  head: { type: 'gradient', from: [10, 10, 10], fromAlpha: 1, to: [70, 70, 70], toAlpha: 1, angle: 90 },
  kind: 'data',
};

/** What does in the place of a pass that a shot lacks. */
const standIns: Partial<Record<PassKind, string>> = {
  depth: t`A gradient or a drawn matte can stand in: near is dark, far is bright.`,
  mist: t`A gradient can stand in: clear is dark, dense is bright.`,
  emission: t`A key of the bright parts can stand in.`,
  'id-matte': t`Drawn shapes can stand in.`,
  id: t`Drawn shapes can stand in.`,
  normal: t`Edge of alpha can stand in where a drawing has an alpha.`,
  facing: t`Edge of alpha can stand in where a drawing has an alpha.`,
};
