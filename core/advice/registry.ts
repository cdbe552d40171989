import type { Finish } from '../finish/finish';
import type { Facts, Finding, Rule } from './advice';
import { beyondAlpha } from './beyond-alpha';
import { brokenValues } from './broken-values';
import { emptyMatte } from './empty-matte';
import { inactive } from './inactive';
import { lacks } from './lacks';
import { leadsNowhere } from './leads-nowhere';
import { missing } from './missing';
import { oddOrder } from './odd-order';
import { takesAll } from './takes-all';
import { twiceTheLight } from './twice-the-light';

/** Every rule there is: adding one means adding its file and a line here. What weighs most comes first. */
const rules: readonly Rule[] = [
  missing,
  brokenValues,
  inactive,
  lacks,
  emptyMatte,
  beyondAlpha,
  twiceTheLight,
  oddOrder,
  takesAll,
  leadsNowhere,
];

/** Findings about a finish on a frame, without the dismissed ones. */
export const adviceOn = (finish: Finish, facts: Facts): Finding[] =>
  rules.flatMap((rule) => rule(finish, facts)).filter((f) => !finish.dismissed?.includes(f.key));
