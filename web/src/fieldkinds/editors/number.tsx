import { Picking, Ticking, Typing } from "../../ui/Typing";
import type { FieldEditor } from "./editor";

export const number: FieldEditor<"number"> = {
  offered: [{ name: "Number", more: () => ({}) }],
  Brief: ({ field, put }) => (
    <>
      <Typing
        label={`Least of ${field.name}`}
        hidden
        number
        value={String(field.least ?? 0)}
        commit={(least) => put({ least: Number(least) })}
      />
      to
      <Typing
        label={`Most of ${field.name}`}
        hidden
        number
        value={String(field.most ?? 99)}
        commit={(most) => put({ most: Number(most) })}
      />
      <Ticking label="whole" value={field.whole ?? true} commit={(whole) => put({ whole })} />
    </>
  ),
  More: ({ field, symbols, put }) => (
    <Picking
      label="Symbol"
      value={field.symbol ?? ""}
      options={[["", "none"], ...symbols]}
      commit={(symbol) => put({ symbol: symbol || null })}
    />
  ),
};
