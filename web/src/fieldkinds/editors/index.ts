// The editors of the field kinds in the list of a type's fields.
import type { FieldDoc, Rules } from "../../state/cardRules";
import { RECORDS } from "..";
import type { Kind } from "../record";
import { choice, choices } from "./choices";
import { derived } from "./derived";
import type { FieldEditor } from "./editor";
import { number } from "./number";
import { picture } from "./picture";
import { text } from "./text";

/** The editors of kinds with settings; a kind without them is offered by the name in its record. */
const WITH_SETTINGS: { [K in Kind]?: FieldEditor<K> } = { text, number, choice, choices, picture, derived };

const editorOfKind = (kind: Kind): FieldEditor<Kind> =>
  (WITH_SETTINGS[kind] as FieldEditor<Kind> | undefined) ?? {
    offered: [{ name: RECORDS[kind].name ?? kind, more: () => ({}) }],
  };

export const editorOf = (field: FieldDoc): FieldEditor<Kind> => editorOfKind(field.kind ?? "text");

/** In the order of the records. */
const EVERY = (Object.keys(RECORDS) as Kind[]).flatMap((kind) =>
  editorOfKind(kind).offered.map((each) => ({ id: kind as string, kind, ...each })),
);

/** What a field can be, by name. */
export const OFFERED = EVERY.map(({ id, name }) => [id, name] as const);

/** What a field is offered as. */
export const offeredAs = (field: FieldDoc): string =>
  EVERY.find((each) => each.kind === (field.kind ?? "text") && (each.is?.(field) ?? true))?.id ?? "";

/** What every kind of field has, kept when the kind changes. */
const COMMON = ["id", "name", "help", "required", "hide_empty", "default", "retired"] as const;

/** A field as another kind: what both have is kept. */
export function asKind(field: FieldDoc, offered: string, lists: Rules["lists"]): FieldDoc {
  const common = Object.fromEntries(COMMON.filter((key) => key in field).map((key) => [key, field[key]]));
  const wanted = EVERY.find((each) => each.id === offered) ?? EVERY[0];
  const list = "list" in field ? field.list : (lists[0]?.id ?? "");
  return { ...common, kind: wanted?.kind, ...wanted?.more(list) } as FieldDoc;
}
