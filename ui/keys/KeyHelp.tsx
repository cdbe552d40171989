import { RotateCcw, Search } from 'lucide-react';
import { useEffect, useState } from 'react';
import { useWorkspace, workspace } from '@/browser/workspace/workspace';
import { Modal } from '../parts/Modal';
import { t } from '../words/words';
import {
  type Command,
  type CommandId,
  commandGroups,
  commands,
  commandWith,
  isOfBrowser,
  keysOf,
  keyWords,
} from './commands';
import { useCommand } from './use-command';

/** All keys, under ? and behind the button of the top bar. */
export function KeyHelp({ open, onOpen, onClose }: { open: boolean; onOpen(): void; onClose(): void }) {
  useCommand('keys', onOpen);
  return open ? <KeyList onClose={onClose} /> : null;
}

const setKeys = (id: CommandId, keys: string | undefined) =>
  workspace.setState(({ keys: { [id]: _, ...others } }) => ({
    keys: keys === undefined || keys === commands[id].keys ? others : { ...others, [id]: keys },
  }));

function KeyList({ onClose }: { onClose(): void }) {
  const [words, setWords] = useState('');
  const [recording, setRecording] = useState<CommandId>();
  const [problem, setProblem] = useState('');
  const changed = useWorkspace((w) => w.keys);
  const wanted = words.toLowerCase().trim();
  const shown = (Object.entries(commands) as [CommandId, Command][]).filter(([id, c]) =>
    `${c.label} ${keyWords(changed[id] ?? c.keys)}`.toLowerCase().includes(wanted),
  );
  useEffect(() => {
    if (!recording) return;
    const pressed = (e: KeyboardEvent) => {
      e.preventDefault();
      e.stopImmediatePropagation();
      if (e.key === 'Escape') return setRecording(undefined);
      const keys = keysOf(e);
      if (!keys) return;
      const taken = commandWith(keys, workspace.getState().keys);
      if (isOfBrowser(keys)) setProblem(t`${keyWords(keys)} belongs to the browser. Press other keys.`);
      else if (taken && taken !== recording)
        setProblem(
          t`${keyWords(keys)} is “${commands[taken].label}”. Press other keys, or change that first.`,
        );
      else {
        setKeys(recording, keys);
        setRecording(undefined);
        setProblem('');
      }
    };
    window.addEventListener('keydown', pressed, true);
    return () => window.removeEventListener('keydown', pressed, true);
  }, [recording]);
  return (
    <Modal label={t`Keys`} box="w-3xl" onClose={onClose}>
      <div className="mb-3 flex items-center gap-3">
        <h2 className="text-lg font-semibold">{t`Keys`}</h2>
        <label className="input input-sm ml-auto w-56">
          <Search size={14} aria-hidden="true" />
          <input
            aria-label={t`Search keys`}
            placeholder={t`Search`}
            value={words}
            onChange={(e) => setWords(e.target.value)}
          />
        </label>
        <button
          type="button"
          className="btn btn-sm"
          disabled={Object.keys(changed).length === 0}
          onClick={() => workspace.setState({ keys: {} })}
        >
          {t`Reset all`}
        </button>
      </div>
      {shown.length === 0 && <p className="text-sm text-quiet">{t`No match.`}</p>}
      <div className="columns-2 gap-x-10 text-[13px]">
        {(Object.keys(commandGroups) as (keyof typeof commandGroups)[]).map((group) => {
          const own = shown.filter(([, c]) => c.group === group);
          if (own.length === 0) return null;
          return (
            <section key={group} className="mb-4 break-inside-avoid-column" aria-label={commandGroups[group]}>
              <h3 className="mb-1 font-semibold">{commandGroups[group]}</h3>
              <ul>
                {own.map(([id, c]) => (
                  <li key={id} className="flex flex-wrap items-center gap-x-2 py-0.5">
                    <span className="min-w-0 flex-1 text-quiet">{c.label}</span>
                    {changed[id] !== undefined && (
                      <button
                        type="button"
                        className="cursor-pointer text-quiet hover:text-primary"
                        aria-label={t`Reset the keys of “${c.label}”`}
                        title={t`Reset to ${keyWords(c.keys)}`}
                        onClick={() => setKeys(id, undefined)}
                      >
                        <RotateCcw size={12} />
                      </button>
                    )}
                    <button
                      type="button"
                      className={`kbd kbd-sm min-h-[24px] min-w-[24px] cursor-pointer hover:border-primary ${recording === id ? 'border-primary text-primary' : ''}`}
                      data-command={id}
                      aria-label={t`Change the keys of “${c.label}”, now ${keyWords(changed[id] ?? c.keys)}`}
                      onClick={() => {
                        setProblem('');
                        setRecording(id);
                      }}
                    >
                      {recording === id ? t`press keys …` : keyWords(changed[id] ?? c.keys)}
                    </button>
                    {/* Beside the key, where one looks. */}
                    {recording === id && (
                      <p role="status" className={`w-full text-xs ${problem ? 'text-error' : 'text-quiet'}`}>
                        {problem || t`Press the keys for “${c.label}”. Esc leaves them.`}
                      </p>
                    )}
                  </li>
                ))}
              </ul>
            </section>
          );
        })}
      </div>
      <p className="text-[13px] text-quiet">
        {t`Click keys to change them. On numbers: arrows step, Shift ×10, Alt ÷10; drag the name; double-click it for the default. On the picture: scroll to zoom, drag to pan, click for a pixel’s journey.`}
      </p>
    </Modal>
  );
}
