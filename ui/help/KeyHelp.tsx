import { useState } from 'react';
import { Modal } from '../parts/Modal';
import { useKey } from '../parts/use-key';
import { keyHelp } from '../shot-keys';

/** All keys, under ?. */
export function KeyHelp() {
  const [open, setOpen] = useState(false);
  // On every keyboard that has it, with Shift or without.
  useKey('shift+?, ?', () => setOpen(true));
  return open ? <KeyList onClose={() => setOpen(false)} /> : null;
}

function KeyList({ onClose }: { onClose(): void }) {
  return (
    <Modal label="Keys" box="w-2xl" onClose={onClose}>
      <h2 className="mb-3 text-lg font-semibold">Keys</h2>
      <dl className="grid grid-cols-2 gap-x-10 gap-y-1.5 text-[13px]">
        {keyHelp.map(([keys, label]) => (
          <div key={keys} className="flex items-baseline">
            <dt>
              <kbd className="kbd kbd-sm">{keys}</kbd>
            </dt>
            <dd className="ml-auto text-quiet">{label}</dd>
          </div>
        ))}
      </dl>
      <p className="mt-4 text-xs text-quiet">
        On numbers: arrows step, Shift ×10, Alt ÷10; drag the name; double-click it for the default. On the
        picture: scroll to zoom, drag to pan, click for a pixel’s journey.
      </p>
    </Modal>
  );
}
