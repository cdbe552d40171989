import { passesUsed } from '../finish/finish';
import type { Rule } from './advice';

/** A head whose media, pass or frame is not there. */
export const missing: Rule = (finish, { passes, frames, frame }) =>
  finish.strands.flatMap((s) =>
    passesUsed(s.head).flatMap(({ media, pass }) => {
      const known = passes[media];
      const label = pass || 'beauty';
      if (!known) {
        return [
          {
            key: `missing/${s.id}/${media}`,
            at: s.id,
            title: `Strand ${s.name} begins at ${media}, which this shot does not have`,
            remedy: 'Choose another pass at its head, or import the media.',
          },
        ];
      }
      if (known.length > 0 && !known.some((p) => p.name === pass)) {
        return [
          {
            key: `missing/${s.id}/${media}/${pass}`,
            at: s.id,
            title: `${media} has no pass ${label}`,
            remedy: `Choose one that it has: ${known.map((p) => p.label).join(', ')}.`,
          },
        ];
      }
      const there = frames[media] ?? [];
      if (there.length > 1 && !there.includes(frame)) {
        return [
          {
            key: `missing/${s.id}/${media}/${frame}`,
            at: s.id,
            title: `Frame ${frame} of ${media} is not there`,
            remedy: 'Render it, or let the media hold the last one or be empty (choose the strand).',
          },
        ];
      }
      return [];
    }),
  );
