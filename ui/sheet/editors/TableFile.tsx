import { FolderOpen, Trash2 } from 'lucide-react';
import { useMemo } from 'react';
import { toast } from 'sonner';
import { packCube, readCube, unpackCube } from '@/core/formats/cube';
import type { Value } from '@/core/steps/shared/define';
import { IconButton } from '../../parts/IconButton';
import { t } from '../../words/words';

type Props = { table: string; onCommit(values: Record<string, Value>): string | undefined };

/** The file of a lookup table: which one it is, and another one in its place. */
export function TableFile({ table, onCommit }: Props) {
  const cube = useMemo(() => unpackCube(table), [table]);
  const open = async (file: File) => {
    try {
      const read = readCube(await file.text());
      const refused = onCommit({ table: packCube({ ...read, title: read.title || file.name }) });
      if (refused) toast.error(`${file.name}: ${refused}`);
      else if (read.dimensions === 3 && read.size > 33)
        toast.warning(t`${file.name} has ${read.size} a side; 33 a side are kept, straight between its own.`);
    } catch (error) {
      toast.error(`${file.name}: ${(error as Error).message}`);
    }
  };
  return (
    <div className="flex items-center gap-2 text-xs" role="group" aria-label={t`Lookup table`}>
      <span className="min-w-0 flex-1 truncate" title={cube?.title}>
        {cube ? (
          <>
            {cube.title || t`Without a title`}
            <span className="text-quiet">
              {' '}
              · {cube.dimensions === 3 ? t`${cube.size} a side` : t`${cube.size} entries`}
            </span>
          </>
        ) : (
          <span className="text-quiet">{t`No table yet: nothing changes.`}</span>
        )}
      </span>
      <label className="btn btn-xs btn-soft font-normal">
        <FolderOpen size={12} /> {t`Open .cube`}
        <input
          type="file"
          accept=".cube"
          className="hidden"
          aria-label={t`Cube file`}
          onChange={(e) => {
            const [file] = e.target.files ?? [];
            if (file) open(file);
            e.target.value = '';
          }}
        />
      </label>
      {cube && (
        <IconButton icon={Trash2} label={t`Remove the table`} onClick={() => onCommit({ table: '' })} />
      )}
    </div>
  );
}
