import type { FieldRecord } from "./record";

export const tags: FieldRecord<"tags"> = {
  name: "Tags",
  imported: [["tags", "tags"]],
  width: 92,
  gives: [],
  late: true,
  typed: true,
  counted: "commonest first",
  worded: true,
};
