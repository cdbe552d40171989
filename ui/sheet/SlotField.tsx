import { useShot } from '@/browser/shot-store';
import { linkPass, linkSlot } from '@/core/finish/edits';
import type { Step, Strand } from '@/core/finish/finish';
import { strandKind } from '@/core/formats/passes';
import type { SlotSpec } from '@/core/steps/define';
import type { ShotDetail } from '@/server/shots/shots';

type Props = { slotKey: string; slot: SlotSpec; step: Step; strand: Strand; shot: ShotDetail };

/** What a slot takes from: the strand itself, or a pass. A picture given as a matte says how it is read. */
export function SlotField({ slotKey, slot, step, strand, shot }: Props) {
  const finish = useShot((s) => s.finish);
  const edit = useShot((s) => s.edit);
  const tap = step.slots[slotKey];
  const tapped = finish.strands.find((s) => s.id === tap?.strand);
  const none = slot.kind === 'matte' ? 'Everywhere' : `This strand, ${strand.name}`;
  const value = tapped?.head.type === 'pass' ? `${tapped.head.media}/${tapped.head.pass}` : '';
  const pick = (chosen: string) => {
    if (chosen === '') return edit(linkSlot(finish, step.id, slotKey, undefined));
    for (const media of shot.media) {
      const pass = media.passes.find((p) => `${media.name}/${p.name}` === chosen);
      if (!pass) continue;
      const head = { type: 'pass', media: media.name, pass: pass.name } as const;
      return edit(
        linkPass(finish, step.id, slotKey, head, pass.label, slot.kind === 'matte' ? 'luminance' : undefined),
      );
    }
  };
  return (
    <div className="grid gap-1.5">
      <label className="flex items-center gap-2 text-[13px]" title={slot.says}>
        {slot.name}
        <select
          className={`select select-xs ml-auto w-44 text-xs ${slot.kind === 'matte' ? 'border-dashed' : ''}`}
          data-slot={slotKey}
          value={value}
          onChange={(e) => pick(e.target.value)}
        >
          <option value="">{none}</option>
          {shot.media.map((m) => (
            <optgroup key={m.id} label={m.name}>
              {m.passes
                .filter((p) => strandKind(p) === 'picture')
                .map((p) => (
                  <option key={p.name} value={`${m.name}/${p.name}`}>
                    {p.label}
                  </option>
                ))}
            </optgroup>
          ))}
        </select>
      </label>
      {tap && slot.kind === 'matte' && (
        <label className="flex items-center gap-2 text-[13px]">
          Read as matte
          <select
            className="select select-xs ml-auto text-xs w-44"
            value={tap.as ?? 'luminance'}
            onChange={(e) =>
              edit(
                linkSlot(finish, step.id, slotKey, { ...tap, as: e.target.value as 'alpha' | 'luminance' }),
              )
            }
          >
            <option value="luminance">Luminance</option>
            <option value="alpha">Alpha</option>
          </select>
        </label>
      )}
    </div>
  );
}
