// Ids of new parts of the rules.

/** An id made from a name, different from all others. */
export function freeId(name: string, others: { id: string }[]): string {
  const plain = name
    .normalize("NFKD")
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, "-")
    .replace(/^-+|-+$/g, "")
    .slice(0, 30);
  const stem = /^[a-z]/.test(plain) ? plain : `r-${plain || "new"}`;
  let id = stem;
  for (let number = 2; others.some((each) => each.id === id); number++) id = `${stem}-${number}`;
  return id;
}
