// The kinds of field: one module each here, and its editor in `editors`. The server has the other half, `core/cards/schema/fields`.
import type { Field } from "../state/client";
import { choice } from "./choice";
import { choices } from "./choices";
import { date } from "./date";
import { derived } from "./derived";
import { effect } from "./effect";
import { number } from "./number";
import { picture } from "./picture";
import type { FieldRecord, Kind } from "./record";
import { tags } from "./tags";
import { text } from "./text";
import { yesno } from "./yesno";

/** Every kind that the server knows has its record: the page does not build without one. */
export const RECORDS: { [K in Kind]: FieldRecord<K> } = {
  text,
  number,
  choice,
  choices,
  tags,
  yesno,
  date,
  picture,
  effect,
  derived,
};

export const recordOf = (field: Field): FieldRecord<Kind> => RECORDS[field.kind] as FieldRecord<Kind>;

/** What a column of a sheet can become, by what the import calls it. */
export const IMPORTED = Object.values(RECORDS).flatMap((each) => each.imported);

export type { Giving, Kind } from "./record";
