import type { Finish, Group } from '@/core/finish/finish';
import { t } from '../words/words';
import type { Column } from './geometry';

/** Colours of groups, light enough for dark letters. */
export const groupTones: Record<Group['colour'], string> = {
  blue: '#8fb4ff',
  amber: '#f2b45f',
  green: '#8fcf9b',
  rose: '#f49ac0',
  violet: '#c3a6f7',
  teal: '#79d0cf',
};

export const groupWords: Record<Group['colour'], string> = {
  blue: t`Blue`,
  amber: t`Amber`,
  green: t`Green`,
  rose: t`Rose`,
  violet: t`Violet`,
  teal: t`Teal`,
};

type Run = { group: Group; x: number; width: number };

/** Neighbouring columns of one group. */
export function groupRuns(finish: Finish, columns: readonly Column[]): Run[] {
  const runs: Run[] = [];
  let before: string | undefined;
  for (const { strand, x, width } of columns) {
    const group = finish.groups?.find((g) => g.id === strand.group);
    const last = runs.at(-1);
    if (group && last && before === group.id) last.width = x + width - last.x;
    else if (group) runs.push({ group, x, width });
    before = group?.id;
  }
  return runs;
}

type Props = { finish: Finish; columns: readonly Column[]; height: number };

/** Behind the strands of a group its colour, above them its name, in letters of the same size at any zoom. */
export const Groups = ({ finish, columns, height }: Props) => (
  <>
    {groupRuns(finish, columns).map(({ group, x, width }) => (
      <div
        key={`${group.id}/${x}`}
        className="pointer-events-none absolute top-0 rounded-box"
        style={{ left: x - 4, width: width + 8, height, background: `${groupTones[group.colour]}14` }}
        data-group={group.id}
      >
        <span
          className="group-name absolute top-0 left-0 z-[1] max-w-full truncate rounded-box px-1.5 font-medium text-black"
          style={{ background: groupTones[group.colour] }}
          title={group.name}
        >
          {group.name}
        </span>
      </div>
    ))}
  </>
);
