import { CornerUpLeft } from 'lucide-react';
import { useId } from 'react';
import { toast } from 'sonner';
import type { ShotDetail } from '@/api/shots';
import { addFromPicture } from '@/browser/add-from-picture';
import { useEngine } from '@/browser/engine/use-engine';
import { useShot, useShotStore } from '@/browser/session/store';
import { called } from '@/core/finish/edit';
import { linkPass, linkSlot } from '@/core/finish/edits';
import { itemOf } from '@/core/finish/feeds';
import { pointAbove, type Step, type Strand, stepName, type Tap } from '@/core/finish/finish';
import { kindAt } from '@/core/finish/flow';
import { type Beginning, matteBeginnings, startForSlot } from '@/core/finish/new-strand';
import { pointChoices } from '@/core/finish/slot-choices';
import { linksOf } from '@/core/finish/uses';
import { aPass, type PassKind } from '@/core/formats/pass-kinds';
import { passTitle, strandKind } from '@/core/formats/passes';
import type { SlotSpec } from '@/core/steps/shared/define';
import { jump } from '../../board/LinkList';
import { Toggle } from '../../parts/Toggle';
import { useTypedChoice } from '../../parts/use-typed-choice';
import { t } from '../../words/words';
import { chooseOnPicture, isUnchosen } from './choose-on-picture';

type Props = {
  slotKey: string;
  slot: SlotSpec;
  step: Step;
  strand: Strand;
  shot: ShotDetail;
  /** The kind of pass that is meant for it. */
  pass?: PassKind;
};

/** The source of a slot: the strand itself, a point of another, a pass, or a new matte; and how it is read. */
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
  const isMatte = slot.kind === 'matte';
  const as = isMatte ? ('luminance' as const) : undefined;
  const groups = pointChoices(finish, step, slotKey, slot);
  const isListed = (point: string) => groups.some((g) => g.points.some((p) => pointValue(p) === point));
  // A bare strand that was made for a slot is named by its pass; a strand without steps is one point.
  const value =
    !tap || !tapped
      ? ''
      : tapped.forSlot && tapped.head.type === 'pass' && tapped.steps.length === 0
        ? `pass:${tapped.head.media}/${tapped.head.pass}`
        : isListed(pointValue(tap))
          ? pointValue(tap)
          : pointValue({ strand: tap.strand, after: 'end' });
  const begin = async (beginning: Beginning) => {
    const started = startForSlot(finish, step.id, slotKey, beginning);
    // The step stays in sight; the new matte is one jump away.
    const done = await addFromPicture(store, engine?.engine, () => started.edit, step.id);
    if (!done) return;
    const head = store.getState().finish.strands.find((s) => s.id === started.strand)?.head;
    // Nothing is in it yet: one goes straight on to choosing it on the picture.
    if (isUnchosen(head)) return chooseOnPicture(store, started.strand);
    toast(t`${beginning.name} is a strand of its own now.`, {
      action: { label: t`Go there`, onClick: () => jump(store, started.selects) },
    });
  };
  const pick = (chosen: string) => {
    if (chosen === '') return edit((finish) => linkSlot(finish, step.id, slotKey, undefined));
    if (chosen.startsWith('point:')) {
      const [, strandId, after] = chosen.split(':');
      return edit((finish) =>
        linkSlot(finish, step.id, slotKey, { strand: strandId, after, ...(as ? { as } : {}) }),
      );
    }
    const beginning = fresh.find((b) => `new:${b.key}` === chosen);
    if (beginning) return void begin(beginning);
    for (const media of shot.media) {
      const pass = media.passes.find((p) => `pass:${media.name}/${p.name}` === chosen);
      if (!pass) continue;
      const head = { type: 'pass', media: media.name, pass: pass.name } as const;
      const name = passTitle(media.name, pass);
      return edit((finish) => linkPass(finish, step.id, slotKey, head, name, as, strandKind(pass)));
    }
  };
  const choice = useTypedChoice(value, pick);
  const index = strand.steps.indexOf(step);
  const above = {
    strand: strand.id,
    after: pointAbove(strand, index),
    name: strand.name,
  };
  const fresh = isMatte ? matteBeginnings(shot.media, above) : [];
  const wantsData = slot.kind === 'data';
  // The mask of a step has a value of its own for it, which can have keys.
  const inverts = isMatte && tap !== undefined && slot.invertedBy === undefined;
  return (
    <div className="grid gap-1.5">
      <div className="flex items-center gap-1 text-[13px]" title={slot.description}>
        <label htmlFor={id} className="min-w-0 flex-1 truncate">
          {slot.name}
        </label>
        {tap && tapped && (
          <button
            type="button"
            className="cursor-pointer p-1.5 text-quiet hover:text-primary"
            aria-label={t`Go to the source of ${slot.name}`}
            title={t`Go to the source (L; Shift L leads back)`}
            onClick={() => jump(store, itemOf(finish, tap).id)}
          >
            <CornerUpLeft size={12} />
          </button>
        )}
        <select
          id={id}
          className={`select select-xs w-44 pr-6 text-xs text-ellipsis ${isMatte ? 'border-dashed' : ''}`}
          data-slot={slotKey}
          {...choice}
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
          {groups.map((g) => (
            <optgroup key={g.strand} label={t`Strand ${g.name}`}>
              {g.points.map((p) => (
                <option key={p.after} value={pointValue(p)} disabled={p.circle}>
                  {p.circle ? t`${p.name}: would make a circle` : p.name}
                </option>
              ))}
            </optgroup>
          ))}
          {shot.media.map((m) => (
            <optgroup key={m.id} label={m.name}>
              {m.passes
                .filter((p) => (strandKind(p) === 'data') === wantsData)
                .map((p) => (
                  <option key={p.name} value={`pass:${m.name}/${p.name}`}>
                    {passTitle(m.name, p)}
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
      {tap && isMatte && <EmptyMatte stepId={step.id} slotKey={slotKey} tap={tap} />}
      {tap && isMatte && kindAt(finish, tap.strand, tap.after) !== 'matte' && (
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
      {inverts && (
        <Toggle
          label={t`Invert ${slot.name}`}
          title={t`Takes the complement: what is outside the matte.`}
          checked={tap.invert === true}
          onChange={(on) => {
            const { invert: _, ...plain } = tap;
            edit((doc) =>
              called(
                on
                  ? t`invert ${slot.name} of ${stepName(step)}`
                  : t`take ${slot.name} of ${stepName(step)} as it is`,
                linkSlot(doc, step.id, slotKey, on ? { ...plain, invert: true } : plain),
              ),
            );
          }}
        />
      )}
    </div>
  );
}

const pointValue = ({ strand, after }: { strand: string; after: string }) => `point:${strand}:${after}`;

/** Says at its slot that a matte is empty, and leads on where nothing was chosen for it yet. */
function EmptyMatte({ stepId, slotKey, tap }: { stepId: string; slotKey: string; tap: Tap }) {
  const store = useShotStore();
  const frame = useShot((s) => s.frame);
  const head = useShot((s) => s.finish.strands.find((x) => x.id === tap.strand)?.head);
  const isEmpty = useShot((s) => s.noticed.emptyMattes.includes(`${stepId}/${slotKey}`));
  const isChoosing = useShot(
    (s) => s.tool !== undefined && 'strand' in s.tool && s.tool.strand === tap.strand,
  );
  if (isUnchosen(head))
    return (
      <p className="flex items-center gap-2 text-xs text-secondary" data-empty={slotKey}>
        <span className="min-w-0 flex-1">
          {head?.type === 'ids'
            ? t`No object is chosen yet: the step changes nothing.`
            : t`No shape is drawn yet: the step changes nothing.`}
        </span>
        {!isChoosing && (
          <button type="button" className="btn btn-xs" onClick={() => chooseOnPicture(store, tap.strand)}>
            {head?.type === 'ids' ? t`Choose objects` : t`Draw`}
          </button>
        )}
      </p>
    );
  if (!isEmpty) return null;
  return (
    <p className="text-xs text-secondary" data-empty={slotKey}>
      {t`Empty on frame ${frame}: the step changes nothing here.`}
    </p>
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
