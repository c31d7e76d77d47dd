import type { FieldRecord } from "./record";

export const derived: FieldRecord<"derived"> = {
  imported: [],
  width: 64,
  gives: [{ rank: 6, least: "behind" }],
  typed: false,
  counted: "in order",
};
