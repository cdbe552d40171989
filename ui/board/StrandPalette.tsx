import { useState } from 'react';
import type { ShotDetail } from '@/api/shots';
import { allBeginnings, type Beginning } from '@/core/finish/new-strand';
import { Modal } from '../parts/Modal';
import { nameRank } from './search';

type Props = {
  shot: ShotDetail;
  /** The picture that keys read: a strand after a step. */
  from: { strand: string; after: string; name: string };
  onPick(from: Beginning): void;
  onClose(): void;
};

/** Starts of a new strand. */
export function StrandPalette({ shot, from, onPick, onClose }: Props) {
  const [words, setWords] = useState('');
  const fits = allBeginnings(shot.media, from)
    .filter((c) => `${c.name} ${c.description}`.toLowerCase().includes(words.toLowerCase()))
    .sort((a, b) => nameRank(a.name, words) - nameRank(b.name, words));
  return (
    <Modal label="Add a strand" box="w-96 p-3" atTop onClose={onClose}>
      <input
        className="input input-sm w-full"
        placeholder="What does the strand begin at?"
        aria-label="Search heads"
        value={words}
        onChange={(e) => setWords(e.target.value)}
        onKeyDown={(e) => {
          if (e.key !== 'Enter' || !fits[0]) return;
          e.preventDefault();
          onPick(fits[0]);
        }}
      />
      <ul className="mt-2 grid max-h-[60vh] gap-0.5 overflow-y-auto">
        {fits.map((c) => (
          <li key={c.key}>
            <button
              type="button"
              className="flex w-full cursor-pointer items-baseline rounded px-2 py-1 text-left hover:bg-base-300"
              onClick={() => onPick(c)}
            >
              <span className="font-medium">{c.name}</span>
              <span className="ml-auto text-xs text-quiet">{c.description}</span>
            </button>
          </li>
        ))}
        {fits.length === 0 && <li className="px-2 py-3 text-sm text-quiet">No match.</li>}
      </ul>
    </Modal>
  );
}
