import { Ellipsis } from 'lucide-react';
import { useState } from 'react';
import { toast } from 'sonner';
import type { ShotDetail } from '@/api/shots';
import { copiedStep, duplicateHere, keepCopied, pasteHere } from '@/browser/clipboard';
import { useEngine } from '@/browser/engine/use-engine';
import { useShot, useShotStore } from '@/browser/session/store';
import { spaceWords } from '@/core/evaluate/lookup';
import { copyOf, unlinkCopy } from '@/core/finish/copies';
import { splitAt } from '@/core/finish/edits';
import { findStep, type Strand } from '@/core/finish/finish';
import { isUse } from '@/core/finish/uses';
import { writeCube } from '@/core/formats/cube';
import { type TableSpace, tableSpaces } from '@/core/steps/finish/lookup-table';
import { stepSpec } from '@/core/steps/registry';
import { Dropdown } from '../parts/Dropdown';
import { saveFile } from '../parts/save-file';
import { MakeRecipe } from '../recipes/MakeRecipe';
import { t } from '../words/words';

/** More actions for a step. */
export function StepMenu({ stepId, strand, shot }: { stepId: string; strand: Strand; shot: ShotDetail }) {
  const [making, setMaking] = useState(false);
  const store = useShotStore();
  const started = useEngine();
  const edit = useShot((s) => s.edit);
  const change = useShot((s) => s.change);
  const finish = useShot((s) => s.finish);
  const step = findStep(finish, stepId)!.step;
  const follows = step.follows !== undefined;
  const saveTable = async (space: TableSpace) => {
    const made = await started?.engine
      .lookupTable(finish, stepId, store.getState().frame, 33, space)
      .catch((error) => void toast.error((error as Error).message));
    if (!made) return;
    saveFile(`${made.title.replace(/[^\w-]+/g, '-')}.cube`, writeCube(made, [spaceWords[space]]));
  };
  const items: [string, string, () => void][] = [
    [t`Copy`, t`Ctrl C`, () => keepCopied(copyOf(finish, stepId))],
    [t`Paste below`, t`Ctrl V`, () => pasteHere(store)],
    [t`Duplicate`, 'D', () => duplicateHere(store, stepId, false)],
    ...(isUse(step)
      ? []
      : [[t`Linked copy`, '', () => duplicateHere(store, stepId, true)] as [string, string, () => void]]),
    [t`Make a recipe …`, '', () => setMaking(true)],
    ...(follows
      ? [[t`Unlink`, '', () => edit((finish) => unlinkCopy(finish, stepId))] as [string, string, () => void]]
      : []),
    ...(stepSpec(step.type)?.program
      ? (Object.keys(tableSpaces) as TableSpace[]).map((space): [string, string, () => void] => [
          t`Save as .cube, ${tableSpaces[space].toLowerCase()}`,
          '',
          () => saveTable(space),
        ])
      : []),
    [
      t`Split here`,
      '',
      () => {
        if (edit((finish) => splitAt(finish, strand.id, stepId)))
          change({ selected: store.getState().finish.strands.at(-1)!.id });
      },
    ],
  ];
  return (
    <>
      {making && (
        <MakeRecipe strandId={strand.id} stepId={stepId} shot={shot} onClose={() => setMaking(false)} />
      )}
      <Dropdown
        summary={
          <summary
            className="btn btn-ghost btn-sm btn-square"
            aria-label={t`More for this step`}
            title={t`More`}
          >
            <Ellipsis size={16} />
          </summary>
        }
      >
        <ul className="menu dropdown-content z-20 mt-1 w-56 rounded-box border border-line bg-base-200 p-1 text-[13px] shadow-lg">
          {items.map(([name, keys, act]) => (
            <li key={name}>
              <button type="button" disabled={name === 'Paste below' && !copiedStep()} onClick={act}>
                {name}
                <span className="ml-auto text-xs text-quiet">{keys}</span>
              </button>
            </li>
          ))}
        </ul>
      </Dropdown>
    </>
  );
}
