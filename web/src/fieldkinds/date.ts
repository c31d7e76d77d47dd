import type { FieldRecord } from "./record";

export const date: FieldRecord<"date"> = {
  name: "Date",
  imported: [["date", "date"]],
  width: 92,
  gives: [],
  late: true,
  typed: true,
};
