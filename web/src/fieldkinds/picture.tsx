import { isBrought } from "../state/cells";
import type { FieldRecord } from "./record";

export const picture: FieldRecord<"picture"> = {
  imported: [
    ["picture", "picture"],
    ["back", "picture on the back"],
  ],
  width: 64,
  gives: [],
  late: true,
  typed: true,
  Shown: ({ text }) =>
    isBrought(text) ? (
      <span className="holds">in place</span>
    ) : (
      <span className="needs" title="This file is still to be brought">
        {text}
      </span>
    ),
};
