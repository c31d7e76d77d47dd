import type { FieldRecord } from "./record";

export const text: FieldRecord<"text"> = {
  imported: [["text", "text"]],
  width: 150,
  gives: [],
  late: true,
  typed: true,
  worded: true,
  long: (field) => field.long === true,
};
