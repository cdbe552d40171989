/** Keys of a record of choices, for a picklist. */
export const keysOf = <K extends string>(record: Record<K, unknown>) => Object.keys(record) as K[];
