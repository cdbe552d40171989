import { useState } from 'react';
import type { Head, Strand } from '@/core/finish/finish';
import { passKinds } from '@/core/formats/pass-kinds';
import { strandKind } from '@/core/formats/passes';
import type { ShotDetail } from '@/server/shots/shots';
import { Modal } from '../parts/Modal';

type Choice = { key: string; name: string; says: string; head: Head; kind: Strand['kind'] };

function choicesOf(shot: ShotDetail): Choice[] {
  const passes = shot.media.flatMap((m) =>
    m.passes.map(
      (p): Choice => ({
        key: `${m.name}/${p.name}`,
        name: p.label,
        says: `${passKinds[p.kind]} of ${m.name}`,
        head: { type: 'pass', media: m.name, pass: p.name },
        kind: strandKind(p),
      }),
    ),
  );
  return [
    ...passes,
    {
      key: 'colour',
      name: 'Colour',
      says: 'one colour everywhere',
      head: { type: 'colour', colour: [0.18, 0.18, 0.18], alpha: 1 },
      kind: 'picture',
    },
    {
      key: 'gradient',
      name: 'Gradient',
      says: 'from one colour to another',
      head: { type: 'gradient', from: [0, 0, 0], fromAlpha: 1, to: [1, 1, 1], toAlpha: 1, angle: 90 },
      kind: 'picture',
    },
  ];
}

type Props = {
  shot: ShotDetail;
  onPick(head: Head, kind: Strand['kind'], name: string): void;
  onClose(): void;
};

/** What a new strand may begin at. */
export function StrandPalette({ shot, onPick, onClose }: Props) {
  const [words, setWords] = useState('');
  const fits = choicesOf(shot).filter((c) =>
    `${c.name} ${c.says}`.toLowerCase().includes(words.toLowerCase()),
  );
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
          onPick(fits[0].head, fits[0].kind, fits[0].name);
        }}
      />
      <ul className="mt-2 grid max-h-[60vh] gap-0.5 overflow-y-auto">
        {fits.map((c) => (
          <li key={c.key}>
            <button
              type="button"
              className="flex w-full cursor-pointer items-baseline rounded px-2 py-1 text-left hover:bg-base-300"
              onClick={() => onPick(c.head, c.kind, c.name)}
            >
              <span className="font-medium">{c.name}</span>
              <span className="ml-auto text-xs text-quiet">{c.says}</span>
            </button>
          </li>
        ))}
        {fits.length === 0 && <li className="px-2 py-3 text-sm text-quiet">Nothing is called that.</li>}
      </ul>
    </Modal>
  );
}
