import type { Finish, Head } from './finish';

/** The media that a finish is made of, by the names that they have in its shot. */

const renamed = (head: Head, to: (name: string) => string): Head => {
  switch (head.type) {
    case 'pass':
    case 'mix':
      return { ...head, media: to(head.media) };
    case 'ids':
      return {
        ...head,
        media: to(head.media),
        ...(head.edges ? { edges: { ...head.edges, media: to(head.edges.media) } } : {}),
      };
    case 'stack':
      return { ...head, layers: head.layers.map((l) => ({ ...l, media: to(l.media) })) };
    default:
      return head;
  }
};

/** The same finish with other names for its media. */
export function withMedia(doc: Finish, names: Readonly<Record<string, string>>): Finish {
  const to = (name: string) => names[name] ?? name;
  return {
    ...doc,
    strands: doc.strands.map((s) => ({ ...s, head: renamed(s.head, to) })),
    ...(doc.guides
      ? {
          guides: doc.guides.map((g) =>
            g.source?.type === 'scene' ? { ...g, source: { ...g.source, media: to(g.source.media) } } : g,
          ),
        }
      : {}),
  };
}

/** Names of all media of a finish, in the order of its strands. */
export function mediaNames(doc: Finish): string[] {
  const names = new Set<string>();
  for (const { head } of doc.strands)
    renamed(head, (name) => {
      names.add(name);
      return name;
    });
  return [...names];
}

/** Names of a shot's media for those of a finish: the same name, else the one that is left where each has only one more. */
export function matchedMedia(doc: Finish, there: readonly string[]): Record<string, string> {
  const wanted = mediaNames(doc).filter((name) => !there.includes(name));
  const left = there.filter((name) => !mediaNames(doc).includes(name));
  return wanted.length === 1 && left.length === 1 ? { [wanted[0]]: left[0] } : {};
}
