import { FolderOpen } from 'lucide-react';
import { useState } from 'react';
import { toast } from 'sonner';
import { useShot } from '@/browser/session/store';
import { findStep, stepName } from '@/core/finish/finish';
import { type Cdl, type CdlKind, cdlKinds, readCdl, writeCdl } from '@/core/formats/cdl';
import { cdlOf, valuesOfCdl } from '@/core/steps/finish/grade';
import type { Value, Values } from '@/core/steps/shared/define';
import { saveFile } from '../../parts/save-file';
import { t } from '../../words/words';

type Props = {
  stepId: string;
  values: Values;
  onCommit(values: Record<string, Value>): string | undefined;
};

/** Reads a grade from a colour decision list of the ASC, and writes it as one. */
export function CdlFiles({ stepId, values, onCommit }: Props) {
  const name = useShot((s) => {
    const found = findStep(s.finish, stepId);
    return found ? stepName(found.step) : 'grade';
  });
  const [several, setSeveral] = useState<Cdl[]>();
  const take = (cdl: Cdl) => {
    setSeveral(undefined);
    const refused = onCommit(valuesOfCdl(cdl));
    if (refused) toast.error(`${cdl.id}: ${refused}`);
  };
  const open = async (file: File) => {
    try {
      const all = readCdl(await file.text());
      if (all.length === 1) take(all[0]);
      else setSeveral(all);
    } catch (error) {
      toast.error(`${file.name}: ${(error as Error).message}`);
    }
  };
  const save = (kind: CdlKind) => {
    const id = name.trim().replace(/[^\w-]+/g, '-') || 'grade';
    saveFile(`${id}.${kind}`, writeCdl(kind, [cdlOf(id, values)]), 'application/xml');
  };
  return (
    <div
      className="flex flex-wrap items-center gap-1 text-xs"
      role="group"
      aria-label={t`Colour decision lists`}
    >
      <label className="btn btn-xs btn-soft font-normal">
        <FolderOpen size={12} /> {t`Open .cc, .ccc, .cdl`}
        <input
          type="file"
          accept=".cc,.ccc,.cdl"
          className="hidden"
          aria-label={t`Colour decision list`}
          onChange={(e) => {
            const [file] = e.target.files ?? [];
            if (file) open(file);
            e.target.value = '';
          }}
        />
      </label>
      <select
        className="select select-xs ml-auto w-28"
        aria-label={t`Save the grade as a colour decision list`}
        value=""
        onChange={(e) => save(e.target.value as CdlKind)}
      >
        <option value="" disabled hidden>
          {t`Save as…`}
        </option>
        {(Object.keys(cdlKinds) as CdlKind[]).map((kind) => (
          <option key={kind} value={kind}>
            {cdlKinds[kind]} (.{kind})
          </option>
        ))}
      </select>
      {several && (
        <div className="grid w-full gap-0.5 rounded bg-base-200 p-1.5">
          <span className="text-quiet">{t`Which correction?`}</span>
          {several.slice(0, 200).map((cdl) => (
            <button
              key={cdl.id}
              type="button"
              className="cursor-pointer truncate text-left hover:text-primary"
              onClick={() => take(cdl)}
            >
              {cdl.id}
            </button>
          ))}
          <button type="button" className="btn btn-ghost btn-xs w-fit" onClick={() => setSeveral(undefined)}>
            {t`Cancel`}
          </button>
        </div>
      )}
    </div>
  );
}
