import { useRefusing, useShot } from '@/browser/session/store';
import type { Group, Strand } from '@/core/finish/finish';
import { beginGroup, changeGroup, groupStrand } from '@/core/finish/group-edits';
import { groupTones, groupWords } from '../board/Groups';
import { TextField } from '../parts/TextField';
import { t } from '../words/words';

const begins = 'new group';

/** The group that a strand is shown in on the board, its name and its colour. */
export function GroupFields({ strand }: { strand: Strand }) {
  const finish = useShot((s) => s.finish);
  const edit = useShot((s) => s.edit);
  const refusing = useRefusing();
  const groups = finish.groups ?? [];
  const group = groups.find((g) => g.id === strand.group);
  return (
    <>
      <label className="flex items-center" title={t`Strands of a group stand on one colour on the board.`}>
        <span className="mr-auto">{t`Group`}</span>
        <select
          className="select select-xs w-44"
          aria-label={t`Group`}
          value={group?.id ?? ''}
          onChange={({ target: { value } }) =>
            edit((doc) =>
              value === begins ? beginGroup(doc, strand.id) : groupStrand(doc, strand.id, value || undefined),
            )
          }
        >
          <option value="">{t`None`}</option>
          {groups.map((g) => (
            <option key={g.id} value={g.id}>
              {g.name}
            </option>
          ))}
          <option value={begins}>{t`New group`}</option>
        </select>
      </label>
      {group && (
        <div className="flex items-center gap-2">
          <span className="whitespace-nowrap">{t`Group name`}</span>
          <span className="ml-auto w-44 min-w-0">
            <TextField
              label={t`Group name`}
              className="input input-xs w-full"
              value={group.name}
              onCommit={(text) => {
                const name = text.trim();
                return name ? refusing((doc) => changeGroup(doc, group.id, { name })) : undefined;
              }}
            />
          </span>
        </div>
      )}
      {group && (
        <fieldset className="flex items-center">
          <legend className="sr-only">{t`Colour of the group`}</legend>
          <span className="mr-auto" aria-hidden="true">{t`Colour`}</span>
          {(Object.keys(groupTones) as Group['colour'][]).map((colour) => (
            <button
              key={colour}
              type="button"
              className={`grid size-[24px] cursor-pointer place-content-center rounded ${group.colour === colour ? 'ring-1 ring-primary' : ''}`}
              aria-label={groupWords[colour]}
              aria-pressed={group.colour === colour}
              title={groupWords[colour]}
              onClick={() => edit((doc) => changeGroup(doc, group.id, { colour }))}
            >
              <span className="size-4 rounded" style={{ background: groupTones[colour] }} />
            </button>
          ))}
        </fieldset>
      )}
    </>
  );
}
