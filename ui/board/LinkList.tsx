import type { ShotStore } from '@/browser/session/store';
import { drawnBoard, useShot, useShotStore } from '@/browser/session/store';
import { type Link, linksAt } from '@/core/finish/feeds';
import { Modal } from '../parts/Modal';
import { t } from '../words/words';

/** Goes to the other end of a link; one can jump back from there. */
export function jump(store: ShotStore, to: string) {
  const { selected, jumps, change } = store.getState();
  change({ selected: to, jumps: selected === undefined ? jumps : [...jumps.slice(-30), selected] });
}

/** Goes back to where the last link was followed from, if it is still there. */
export function jumpBack(store: ShotStore) {
  const { finish, jumps, change } = store.getState();
  const isThere = (id: string) =>
    finish.strands.some((s) => s.id === id || s.steps.some((step) => step.id === id));
  const left = [...jumps];
  for (let id = left.pop(); id !== undefined; id = left.pop())
    if (isThere(id)) return change({ selected: id, jumps: left });
  change({ jumps: [] });
}

/** The links of what is selected. */
export const linksNow = (store: ShotStore): Link[] => {
  const state = store.getState();
  return state.selected === undefined ? [] : linksAt(drawnBoard(state), state.selected);
};

/** The links of what is selected, to choose which one is followed. */
export function LinkList({ links, onClose }: { links: readonly Link[]; onClose(): void }) {
  const store = useShotStore();
  const name = useShot((s) => s.selected);
  const part = (direction: Link['direction'], title: string) => {
    const own = links.filter((l) => l.direction === direction);
    return own.length === 0 ? null : (
      <section key={`${name} ${direction}`} className="mt-3" aria-label={title}>
        <h3 className="mb-1 text-xs text-quiet">{title}</h3>
        <ul>
          {own.map((link) => (
            <li key={link.label}>
              <button
                type="button"
                className="w-full cursor-pointer rounded px-2 py-1 text-left text-[13px] hover:bg-base-300"
                onClick={() => {
                  jump(store, link.id);
                  onClose();
                }}
              >
                {link.label}
              </button>
            </li>
          ))}
        </ul>
      </section>
    );
  };
  return (
    <Modal label={t`Links`} box="w-96 p-4" onClose={onClose}>
      <h2 className="text-base font-semibold">{t`Jump along a link`}</h2>
      {links.length === 0 && (
        <p className="mt-2 text-[13px] text-quiet">{t`No link begins or ends here. Select a step with a slot.`}</p>
      )}
      {part('from', t`It takes from`)}
      {part('to', t`It goes to`)}
    </Modal>
  );
}
