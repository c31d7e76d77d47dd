import type { FieldRecord } from "./record";

export const number: FieldRecord<"number"> = {
  imported: [["number", "number"]],
  width: 52,
  gives: [],
  typed: true,
  counted: "in order",
  numeric: true,
  steps: true,
};
