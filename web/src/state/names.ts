// Names that nobody has yet.

/** The name, with a number behind it where it is taken: case makes no difference. */
export function freeName(name: string, taken: string[]): string {
  const known = new Set(taken.map((each) => each.toLowerCase()));
  let free = name;
  for (let next = 2; known.has(free.toLowerCase()); next++) free = `${name} ${next}`;
  return free;
}
