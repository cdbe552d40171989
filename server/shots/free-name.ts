/** A name that is not taken yet: with a number behind it where it is. */
export function freeName(name: string, taken: ReadonlySet<string>): string {
  let free = name;
  for (let n = 2; taken.has(free); n++) free = `${name.slice(0, 190)} ${n}`;
  return free;
}
