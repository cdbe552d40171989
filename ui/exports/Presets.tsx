import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Trash2 } from 'lucide-react';
import { useState } from 'react';
import { deletePreset, listPresets, savePreset } from '@/api/exports';
import { request } from '@/api/request';
import { IconButton } from '../parts/IconButton';
import { t } from '../words/words';
import { type FormValues, ofPreset } from './form-values';

/** Named settings: chosen, saved under a name, deleted. */
export function Presets({
  values,
  onChoose,
}: {
  values: FormValues;
  onChoose(kept: Partial<FormValues>): void;
}) {
  const client = useQueryClient();
  const key = ['presets'];
  const { data: presets = [] } = useQuery({ queryKey: key, queryFn: () => request(listPresets, {}) });
  const [chosen, setChosen] = useState('');
  const [naming, setNaming] = useState<string>();
  const [problem, setProblem] = useState('');
  const change = async (work: Promise<unknown>) => {
    setProblem('');
    await work.catch((e) => setProblem((e as Error).message));
    await client.invalidateQueries({ queryKey: key });
  };
  const save = async () => {
    if (!naming?.trim()) return;
    const settings = Object.fromEntries(ofPreset.map((k) => [k, values[k]]));
    await change(request(savePreset, { body: { name: naming, settings } }));
    setChosen(naming.trim());
    setNaming(undefined);
  };
  return (
    <div>
      <div className="grid grid-cols-[88px_1fr_auto] items-center">
        <span id="preset-label">{t`Preset`}</span>
        {naming === undefined ? (
          <select
            className="select select-sm w-full"
            aria-labelledby="preset-label"
            value={chosen}
            onChange={(e) => {
              setChosen(e.target.value);
              const found = presets.find((p) => p.name === e.target.value);
              if (found) onChoose(found.settings as Partial<FormValues>);
            }}
          >
            <option value="">{t`None`}</option>
            {presets.map((p) => (
              <option key={p.name}>{p.name}</option>
            ))}
          </select>
        ) : (
          <input
            // biome-ignore lint/a11y/noAutofocus: it was asked for just now
            autoFocus
            className="input input-sm w-full"
            aria-label={t`Name of the preset`}
            placeholder={t`Name of the preset`}
            value={naming}
            onChange={(e) => setNaming(e.target.value)}
            onKeyDown={(e) => {
              if (e.key === 'Enter') {
                e.preventDefault();
                void save();
              }
              if (e.key === 'Escape') {
                e.stopPropagation();
                setNaming(undefined);
              }
            }}
          />
        )}
        <span className="flex">
          <button
            type="button"
            className="btn btn-ghost btn-sm"
            aria-label={t`Save as a preset`}
            onClick={() => (naming === undefined ? setNaming(chosen) : void save())}
          >
            {t`Save`}
          </button>
          {chosen !== '' && naming === undefined && (
            <IconButton
              icon={Trash2}
              label={t`Delete the preset ${chosen}`}
              onClick={() => {
                void change(request(deletePreset, { query: { name: chosen } }));
                setChosen('');
              }}
            />
          )}
        </span>
      </div>
      {problem && (
        <p role="alert" className="text-error">
          {problem}
        </p>
      )}
    </div>
  );
}
