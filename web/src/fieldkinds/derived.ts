import type { FieldRecord } from "./record";

export const derived: FieldRecord<"derived"> = {
  imported: [],
  width: 64,
  gives: [{ rank: 6, least: 44 }],
  typed: false,
  counted: "in order",
};
