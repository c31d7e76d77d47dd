import type { FieldRecord } from "./record";

const SAID = ["yes", "no"] as const;

export const yesno: FieldRecord<"yesno"> = {
  name: "Yes or no",
  imported: [["yesno", "yes or no"]],
  width: 52,
  gives: [],
  late: true,
  typed: true,
  counted: "commonest first",
  toggles: SAID,
  choices: () => [...SAID],
};
