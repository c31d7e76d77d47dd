import type { FieldRecord } from "./record";

export const effect: FieldRecord<"effect"> = {
  name: "Effect",
  imported: [],
  width: 240,
  gives: [
    { rank: 1, least: 170 },
    { rank: 5, least: 122 },
  ],
  typed: true,
  worded: true,
  long: () => true,
};
