// A number before a name: "3 larch", "3x larch", "-1 larch".

/** The number that a text begins with, and what follows it; `count` is null where it begins with none. */
export function numbered(text: string): { count: number | null; rest: string } {
  // "x" may begin a name, too: it is a sign only between a number and a space.
  const [, number, rest = ""] = /^\s*([+-]?\d{1,3})(?:\s*[x×])?(?:\s+(.*))?$/i.exec(text) ?? [];
  if (!number) return { count: null, rest: text.trim() };
  return { count: Math.max(-99, Math.min(99, Number(number))), rest: rest.trim() };
}
