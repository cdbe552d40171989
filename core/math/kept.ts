/** What `make` makes of a key, kept for the keys that were new last; an older one is made again. */
export function kept<T>(most: number, make: (key: string) => T): (key: string) => T {
  const all = new Map<string, T>();
  return (key) => {
    if (all.has(key)) return all.get(key)!;
    const made = make(key);
    const [oldest] = all.keys();
    if (all.size >= most) all.delete(oldest);
    all.set(key, made);
    return made;
  };
}
