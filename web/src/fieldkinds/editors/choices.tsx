import type { FieldDoc } from "../../state/cardRules";
import { Picking } from "../../ui/Typing";
import type { EditorProps, FieldEditor } from "./editor";

function List({ field, rules, put }: EditorProps<"choice"> | EditorProps<"choices">) {
  return (
    <>
      from
      <Picking
        label={`List of ${field.name}`}
        hidden
        value={field.list}
        options={rules.lists.map((list) => [list.id, list.name] as const)}
        commit={(list) => put({ list })}
      />
    </>
  );
}

export const choice: FieldEditor<"choice"> = {
  offered: [{ name: "Choice", more: (list) => ({ list }) }],
  Brief: List,
  More: ({ field, siblings, put }) => (
    <Picking
      label="Depends on"
      value={field.within ?? ""}
      options={[
        ["", "any: all values offered"],
        ...siblings.filter((each) => each.kind === "choice" && each.id !== field.id).map(named),
      ]}
      commit={(within) => put({ within: within || null })}
    />
  ),
};

const named = (field: FieldDoc) => [field.id, field.name] as const;

export const choices: FieldEditor<"choices"> = {
  offered: [{ name: "Several choices", more: (list) => ({ list }) }],
  Brief: List,
};
