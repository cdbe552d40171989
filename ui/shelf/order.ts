import type { ShelfProject, ShelfShot } from '@/api/shelf';
import { t } from '../words/words';

export const shelfOrders = { opened: t`Opened last`, name: t`Name`, added: t`Added last` } as const;
export type ShelfOrder = keyof typeof shelfOrders;

const byName = (a: { name: string }, b: { name: string }) =>
  a.name.localeCompare(b.name, 'en', { numeric: true });

const shotOrders: Record<ShelfOrder, (a: ShelfShot, b: ShelfShot) => number> = {
  opened: (a, b) => (b.openedAt ?? '').localeCompare(a.openedAt ?? '') || byName(a, b),
  name: byName,
  added: (a, b) => b.addedAt.localeCompare(a.addedAt) || b.id - a.id,
};

/** When anything of a project was opened last. */
const openedAt = ({ shots }: ShelfProject) =>
  shots.reduce((last, s) => ((s.openedAt ?? '') > last ? s.openedAt! : last), '');

const projectOrders: Record<ShelfOrder, (a: ShelfProject, b: ShelfProject) => number> = {
  opened: (a, b) => openedAt(b).localeCompare(openedAt(a)) || b.id - a.id,
  name: byName,
  added: (a, b) => b.id - a.id,
};

/** Projects with those of their shots that have the words in the name of project, shot or finish; what is archived only if that is asked for. */
export function shownProjects(
  projects: readonly ShelfProject[],
  words: string,
  order: ShelfOrder,
  archived: boolean,
): ShelfProject[] {
  const wanted = words.trim().toLowerCase().split(/\s+/).filter(Boolean);
  const fits = (...names: string[]) => {
    const text = names.join(' ').toLowerCase();
    return wanted.every((w) => text.includes(w));
  };
  return projects
    .filter((p) => archived || !p.archived)
    .map((p) => ({
      ...p,
      shots: p.shots
        .filter(
          (s) =>
            (archived || !s.archived) && fits(p.name, s.name, ...s.finishes.map((finish) => finish.name)),
        )
        .sort(shotOrders[order]),
    }))
    .filter((p) => p.shots.length > 0 || fits(p.name))
    .sort(projectOrders[order]);
}
