import fc from 'fast-check';

/**
 * Where the random cases of property tests begin. Always the same, so that a run that fails is the fault of what was changed; `ZAFIRO_SEED=random` looks at
 * other cases, for whoever has time for what they find.
 */
const asked = process.env.ZAFIRO_SEED;
if (asked !== 'random') fc.configureGlobal({ seed: Number(asked ?? 20261201) });
