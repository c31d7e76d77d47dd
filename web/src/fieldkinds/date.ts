import type { FieldRecord } from "./record";

export const date: FieldRecord<"date"> = {
  imported: [["date", "date"]],
  width: 92,
  gives: [],
  late: true,
  typed: true,
};
