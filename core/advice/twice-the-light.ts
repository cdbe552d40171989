import { setBypass } from '../finish/edits';
import { stepName } from '../finish/finish';
import { stepSpec } from '../steps/registry';
import type { Rule } from './advice';

/** Two steps of one sort add light from the same source: halos pile up. */
export const twiceTheLight: Rule = (finish) =>
  finish.strands.flatMap((strand) => {
    const seen = new Map<string, string>();
    return strand.steps.flatMap((t) => {
      if (t.bypass || stepSpec(t.type)?.stage !== 'light' || t.values.show === 'light') return [];
      // All that says which light is taken, and where it may land: other mattes mean other light.
      const source = [
        t.type,
        ...Object.entries(t.slots)
          .map(
            ([slot, { strand, after, as, invert }]) =>
              `${slot} ${strand}/${after} ${as ?? ''} ${invert ?? ''}`,
          )
          .sort(),
        t.values.invert,
      ].join(' ');
      const before = seen.get(source);
      seen.set(source, stepName(t));
      if (!before) return [];
      return [
        {
          key: `twice-the-light/${t.id}`,
          at: t.id,
          title: `${stepName(t)} uses the same light as ${before}`,
          remedy: 'Two halos of the same lights pile up. Keep one, or give each its own light source.',
          fix: setBypass(finish, t.id, true),
        },
      ];
    });
  });
