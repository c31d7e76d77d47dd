import { Typing } from "../../ui/Typing";
import type { FieldEditor } from "./editor";

export const text: FieldEditor<"text"> = {
  offered: [
    { name: "Short text", more: () => ({ long: false }), is: (field) => !("long" in field && field.long) },
    {
      id: "longtext",
      name: "Long text",
      more: () => ({ long: true }),
      is: (field) => "long" in field && field.long === true,
    },
  ],
  More: ({ field, put }) => (
    <Typing
      label="Most characters"
      number
      value={String(field.most ?? 2000)}
      commit={(most) => put({ most: Number(most) })}
    />
  ),
};
