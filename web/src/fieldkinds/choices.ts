import { type FieldRecord, offeredOf } from "./record";

export const choices: FieldRecord<"choices"> = {
  imported: [],
  width: 130,
  gives: [],
  late: true,
  typed: true,
  counted: "commonest first",
  several: true,
  choices: (field, game) => offeredOf(game, field.list).map((value) => value.name),
};
