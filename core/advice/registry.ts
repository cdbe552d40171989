import type { Finish } from '../finish/finish';
import { usesAround } from '../finish/uses';
import type { Facts, Finding, Rule } from './advice';
import { beyondAlpha } from './beyond-alpha';
import { brokenValues } from './broken-values';
import { emptyMatte } from './empty-matte';
import { inactive } from './inactive';
import { lacks } from './lacks';
import { leadsNowhere } from './leads-nowhere';
import { missing } from './missing';
import { negativePixels } from './negative-pixels';
import { oddOrder } from './odd-order';
import { takesAll } from './takes-all';
import { twiceTheLight } from './twice-the-light';

/** Every rule there is: adding one means adding its file and a line here. What weighs most comes first. */
const rules: readonly Rule[] = [
  missing,
  brokenValues,
  negativePixels,
  inactive,
  lacks,
  emptyMatte,
  beyondAlpha,
];

/** Rules about how a finish is built. What is inside a recipe was built so by whoever made it. */
const rulesOfBuilding: readonly Rule[] = [twiceTheLight, oddOrder, takesAll, leadsNowhere];

/** Findings about a finish on a frame, without the dismissed ones. `editing` is the recipe whose inside is being changed. */
export function adviceOn(finish: Finish, facts: Facts, editing?: string): Finding[] {
  const isOpen = ({ at }: Finding) => {
    const around = usesAround(finish, at);
    return around.length === 0 || (editing !== undefined && around.includes(editing));
  };
  return [
    ...rules.flatMap((rule) => rule(finish, facts)),
    ...rulesOfBuilding.flatMap((rule) => rule(finish, facts)).filter(isOpen),
  ].filter((f) => !finish.dismissed?.includes(f.key));
}
