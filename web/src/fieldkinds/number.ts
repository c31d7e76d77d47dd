import type { FieldRecord } from "./record";

export const number: FieldRecord<"number"> = {
  imported: [["number", "number"]],
  width: 52,
  gives: [],
  typed: true,
  numeric: true,
  steps: true,
};
