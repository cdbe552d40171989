import { Pipette, Plus, Trash2 } from 'lucide-react';
import { useShot } from '@/browser/session/store';
import type { Rgb } from '@/core/math/rgb';
import type { ColourSpec, Value } from '@/core/steps/shared/define';
import { number } from '@/core/steps/shared/numbers';
import { IconButton } from '../../parts/IconButton';
import { t } from '../../words/words';
import { ColourField } from '../fields/ColourField';
import { NumberField } from '../fields/NumberField';

type Rows = readonly (readonly number[])[];
type Props = {
  stepId: string;
  stops: Rows;
  chosen: number;
  onChoose(index: number): void;
  onPreview(to: Rows | undefined): void;
  onCommit(to: Rows): void;
};

const density = number('ratio', 'spread', t`Here`, t`How much of the density counts at this stop.`, 1, {
  from: 0,
  to: 1,
  soft: [0, 1],
});
const colour: ColourSpec = {
  type: 'colour',
  section: 'spread',
  name: t`Colour`,
  description: t`Of the mist at this stop.`,
  default: [0.5, 0.55, 0.62],
};
const most = 12;

/** The chosen stop of a mist: its density and colour, also picked on the picture; stops are added and taken away. */
export function MistStops({ stepId, stops, chosen, onChoose, onPreview, onCommit }: Props) {
  const change = useShot((s) => s.change);
  const row = stops[chosen];
  const changed = (next: readonly number[]): Rows => stops.map((r, i) => (i === chosen ? next : r));
  const withColour = (c: Value) => changed([row[0], row[1], ...(c as Rgb)]);
  /** Half-way to the next stop, or to the end. */
  const added = (): Rows => {
    const others = stops.map((r) => r[0]).filter((at) => at > row[0]);
    const next = Math.min(1, ...others);
    return [...stops, [(row[0] + next) / 2, ...row.slice(1)]];
  };
  return (
    <div className="grid gap-1.5 text-[13px]" role="group" aria-label={t`Stop of the mist`}>
      <div className="flex items-center">
        <span className="mr-auto text-xs text-quiet">{t`Stop ${chosen + 1} of ${stops.length}`}</span>
        <IconButton
          icon={Pipette}
          label={t`Pick the colour of the mist on the picture`}
          onClick={() =>
            change({ tool: { type: 'pick-colour', step: stepId, key: 'stops', adds: false, row: chosen } })
          }
        />
        <IconButton
          icon={Plus}
          label={t`Add a stop`}
          disabled={stops.length >= most}
          onClick={() => {
            onChoose(stops.length);
            onCommit(added());
          }}
        />
        <IconButton
          icon={Trash2}
          label={t`Remove the stop`}
          disabled={stops.length === 1}
          onClick={() => {
            onChoose(0);
            onCommit(stops.filter((_, i) => i !== chosen));
          }}
        />
      </div>
      <NumberField
        id="stop-density"
        spec={density}
        value={row[1]}
        onPreview={(d) => onPreview(d === undefined ? undefined : changed([row[0], d, ...row.slice(2)]))}
        onCommit={(d) => onCommit(changed([row[0], d, ...row.slice(2)]))}
      />
      <ColourField
        spec={colour}
        value={[row[2], row[3], row[4]]}
        onPreview={(c) => onPreview(c && withColour(c))}
        onCommit={(c) => onCommit(withColour(c))}
      />
    </div>
  );
}
