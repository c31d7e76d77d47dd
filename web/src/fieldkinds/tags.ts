import type { FieldRecord } from "./record";

export const tags: FieldRecord<"tags"> = {
  imported: [["tags", "tags"]],
  width: 92,
  gives: [{ rank: 2, least: "behind" }],
  typed: true,
  counted: "commonest first",
  worded: true,
};
