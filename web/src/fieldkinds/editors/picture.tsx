import { Picking } from "../../ui/Typing";
import type { FieldEditor } from "./editor";

export const picture: FieldEditor<"picture"> = {
  offered: [{ name: "Picture", more: () => ({}) }],
  More: ({ field, put }) => (
    <Picking
      label="Side"
      value={field.side ?? "front"}
      options={[
        ["front", "front"],
        ["back", "back: it is the card’s own back"],
      ]}
      commit={(side) => put({ side })}
    />
  ),
};
