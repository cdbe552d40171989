import { SlidersHorizontal } from 'lucide-react';
import { useShot } from '@/browser/session/store';
import { type Backing, backings, type MatteLook, matteLooks, screens } from '@/core/scopes/looking';
import { Dropdown } from '../parts/Dropdown';
import { Options } from '../parts/Options';
import { RangeInput } from '../parts/RangeInput';
import { TableFile } from '../sheet/editors/TableFile';
import { t } from '../words/words';

/** How the picture is looked at, beyond channels and exposure; nothing of it is in the picture. */
export function LookMenu() {
  const gamma = useShot((s) => s.gamma);
  const screen = useShot((s) => s.screen);
  const backing = useShot((s) => s.backing);
  const marks = useShot((s) => s.marks);
  const matteLook = useShot((s) => s.matteLook);
  const change = useShot((s) => s.change);
  const changed = gamma !== 1 || screen.by !== 'plain' || backing !== 'black' || marks || matteLook !== 'off';
  return (
    <Dropdown
      summary={
        <summary
          className={`btn btn-ghost btn-xs btn-square ${changed ? 'text-primary' : 'text-quiet'}`}
          aria-label={t`View options`}
          title={t`Backing, screen, gamma, marks`}
        >
          <SlidersHorizontal size={14} />
        </summary>
      }
    >
      <div className="dropdown-content z-20 mt-1 grid w-60 gap-2 rounded-box border border-line bg-base-200 p-3 text-[13px] shadow-lg">
        <label className="flex items-center gap-2">
          {t`Backing`}
          <select
            className="select select-xs ml-auto w-32"
            value={backing}
            onChange={(e) => change({ backing: e.target.value as Backing })}
          >
            <Options of={backings} />
          </select>
        </label>
        <label
          className="flex items-center gap-2"
          title={t`How light comes to the screen, for viewing only: as it is, or what is above white brought into its range.`}
        >
          {t`Screen`}
          <select
            className="select select-xs ml-auto w-32"
            aria-label={t`Screen`}
            value={screen.by}
            onChange={(e) => {
              const by = e.target.value as keyof typeof screens;
              change({ screen: by === 'table' ? { by, table: '' } : { by } });
            }}
          >
            <Options of={screens} />
          </select>
        </label>
        {screen.by === 'table' && (
          <TableFile
            table={screen.table}
            onCommit={({ table }) => {
              change({ screen: { by: 'table', table: table as string } });
              return undefined;
            }}
          />
        )}
        <span
          className="flex items-center gap-2"
          title={t`Display gamma, for viewing only. Double-click for 1.`}
        >
          {t`Gamma`}
          <RangeInput
            min={0.4}
            max={2.6}
            step={0.05}
            value={gamma}
            aria-label={t`Gamma`}
            className="range range-xs ml-auto w-24"
            onPreview={(to) => change({ gamma: to })}
            onCommit={(to) => change({ gamma: to })}
            onCancel={() => {}}
            onDoubleClick={() => change({ gamma: 1 })}
          />
          <span className="w-8 text-right text-xs text-quiet">{gamma.toFixed(2)}</span>
        </span>
        <label
          className="flex cursor-pointer items-center"
          title={t`Stripes: above white at this exposure. Blue: below 0. Magenta: not finite.`}
        >
          {t`Mark clipped, negative, not finite`}
          <input
            type="checkbox"
            className="toggle toggle-xs toggle-primary ml-auto"
            checked={marks}
            onChange={(e) => change({ marks: e.target.checked })}
          />
        </label>
        <label
          className="flex items-center gap-2"
          title={t`Where the matte of the selected step is, or the selected matte, over the picture (M).`}
        >
          {t`Matte`}
          <select
            className="select select-xs ml-auto w-32"
            aria-label={t`Matte display`}
            value={matteLook}
            onChange={(e) => change({ matteLook: e.target.value as MatteLook })}
          >
            <Options of={matteLooks} />
          </select>
        </label>
      </div>
    </Dropdown>
  );
}
