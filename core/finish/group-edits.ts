import { type Edit, edit, freeId } from './edit';
import { type Finish, FinishError, type Group } from './finish';
import { groupColours } from './schema';

/** Edits of groups: strands that belong together, with a name and a colour on the board. A group goes with its last strand (`edit.ts`). */

function strandNamed(doc: Finish, id: string): string {
  const strand = doc.strands.find((s) => s.id === id);
  if (!strand)
    throw new FinishError('This strand is not there any more', `strand ${id}`, 'Undo brings it back.');
  return strand.name;
}

/** Puts a strand into a group, or takes it out of its own. */
export function groupStrand(doc: Finish, strandId: string, groupId: string | undefined): Edit {
  const name = strandNamed(doc, strandId);
  const to = doc.groups?.find((g) => g.id === groupId);
  return edit(to ? `put ${name} into ${to.name}` : `take ${name} out of its group`, (draft) => {
    const strand = draft.strands.find((s) => s.id === strandId)!;
    if (to) strand.group = to.id;
    else delete strand.group;
  });
}

/** Begins a group with a strand, in the colour that the fewest groups have. */
export function beginGroup(doc: Finish, strandId: string): Edit {
  const name = strandNamed(doc, strandId);
  return edit(`begin a group with ${name}`, (draft) => {
    const uses = (colour: string) => draft.groups?.filter((g) => g.colour === colour).length ?? 0;
    const [colour] = [...groupColours].sort((a, b) => uses(a) - uses(b));
    const id = freeId(draft, 'group');
    draft.groups = [...(draft.groups ?? []), { id, name, colour }];
    draft.strands.find((s) => s.id === strandId)!.group = id;
  });
}

/** Changes a group's name or colour. */
export function changeGroup(doc: Finish, groupId: string, part: Partial<Omit<Group, 'id'>>): Edit {
  const group = doc.groups?.find((g) => g.id === groupId);
  return edit(`${part.name ? 'rename' : 'colour'} ${group?.name ?? 'group'}`, (draft) => {
    Object.assign(draft.groups?.find((g) => g.id === groupId) ?? {}, part);
  });
}
