import type { FieldRecord } from "./record";

export const text: FieldRecord<"text"> = {
  imported: [["text", "text"]],
  width: 150,
  gives: [{ rank: 6, least: "behind" }],
  typed: true,
  worded: true,
  long: (field) => field.long === true,
};
