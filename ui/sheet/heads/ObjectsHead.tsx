import { X } from 'lucide-react';
import { useState } from 'react';
import type { ShotDetail } from '@/api/shots';
import { useShot } from '@/browser/session/store';
import { chooseObjects } from '@/core/finish/edits';
import type { IdsHead, Strand } from '@/core/finish/finish';
import { isPattern, namesMeant } from '@/core/mattes/ids';
import { t } from '../../words/words';
import { useObjects } from './use-objects';

type Props = { strand: Strand; head: IdsHead; shot: ShotDetail };

/** The objects that a matte takes: chosen on the picture, from the list, or by a pattern of names. */
export function ObjectsHead({ strand, head, shot }: Props) {
  const edit = useShot((s) => s.edit);
  const frame = useShot((s) => s.frame);
  const { data: known = [], error, isLoading } = useObjects(shot, head, frame);
  const [words, setWords] = useState('');
  const names = known.map((o) => o.name);
  const meant = new Set(namesMeant(head.objects, names));
  const choose = (objects: string[]) => edit((finish) => chooseObjects(finish, strand.id, objects));
  const toggle = (name: string) =>
    choose(head.objects.includes(name) ? head.objects.filter((o) => o !== name) : [...head.objects, name]);
  // What was chosen stays in the list on a frame where it is not.
  const absent = head.objects.filter((o) => !isPattern(o) && !names.includes(o));
  const list = [...known, ...absent.map((name) => ({ name, share: 0 }))].filter((o) =>
    o.name.toLowerCase().includes(words.replace(/[*?]/g, '').toLowerCase()),
  );
  return (
    <section className="grid gap-1.5 border-b border-line px-4 py-2.5 text-[13px]" aria-label={t`Objects`}>
      <h3 className="flex items-baseline">
        <span className="font-semibold text-secondary">{t`Objects`}</span>
        <span className="ml-auto text-xs text-quiet">{t`click on the picture; Shift removes`}</span>
      </h3>
      {head.objects.length > 0 && (
        <div className="flex flex-wrap gap-1">
          {head.objects.map((o) => (
            <button
              key={o}
              type="button"
              className="badge badge-soft badge-primary badge-sm cursor-pointer gap-1"
              title={t`Remove`}
              onClick={() => toggle(o)}
            >
              {o} <X size={11} />
            </button>
          ))}
        </div>
      )}
      <input
        className="input input-xs w-full"
        placeholder={t`Find, or a pattern like ring* and Enter`}
        aria-label={t`Find objects, or add a pattern`}
        value={words}
        onChange={(e) => setWords(e.target.value)}
        onKeyDown={(e) => {
          const name = words.trim();
          if (e.key !== 'Enter' || !name) return;
          if (!head.objects.includes(name)) choose([...head.objects, name]);
          setWords('');
        }}
      />
      {error && <p className="text-error">{error.message}</p>}
      {isLoading && <p className="text-quiet">{t`Reading the objects of frame ${frame}…`}</p>}
      <ul className="grid max-h-72 overflow-y-auto" aria-label={t`Objects of the frame`}>
        {list.map(({ name, share }) => (
          <li key={name}>
            <label
              className={`flex cursor-pointer items-center gap-2 rounded px-1 py-0.5 hover:bg-base-300 ${share === 0 ? 'text-quiet' : ''}`}
            >
              <input
                type="checkbox"
                className="checkbox checkbox-xs checkbox-primary"
                checked={meant.has(name)}
                disabled={meant.has(name) && !head.objects.includes(name)}
                onChange={() => toggle(name)}
              />
              {head.idFormat === 'colour' && (
                <span className="h-3 w-4 rounded-sm border border-line" style={{ background: name }} />
              )}
              <span className="min-w-0 truncate" title={name}>
                {name}
              </span>
              <span className="ml-auto text-xs text-quiet">
                {share === 0 ? t`not on this frame` : `${(share * 100).toFixed(share < 0.01 ? 2 : 1)} %`}
              </span>
            </label>
          </li>
        ))}
        {!isLoading && list.length === 0 && <li className="py-1 text-quiet">{t`No match.`}</li>}
      </ul>
    </section>
  );
}
