import { t } from '../words/words';

export const looks = { before: t`As they are`, after: t`Changed`, both: t`Both` } as const;
export type SheetLook = keyof typeof looks;
