import { Typing } from "../../ui/Typing";
import type { FieldEditor } from "./editor";

export const derived: FieldEditor<"derived"> = {
  offered: [{ name: "Derived", more: () => ({ formula: "0" }) }],
  Brief: ({ field, put }) => (
    <>
      =
      <Typing
        label={`Formula of ${field.name}`}
        hidden
        className="formula-input"
        value={field.formula}
        commit={(formula) => put({ formula })}
      />
    </>
  ),
};
