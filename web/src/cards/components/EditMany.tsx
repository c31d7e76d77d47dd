// Write one field of many cards at once.
import { useState } from "react";
import { writeCells } from "../../state/cells";
import { useGame } from "../../state/store";
import { counted } from "../../ui/plural";
import { SheetDialog, SheetFoot } from "../../ui/Sheet";
import { applies, type Column, cellText, choicesOf, editable } from "../columns";

type Props = { open: boolean; setOpen: (open: boolean) => void; ids: string[]; columns: Column[]; column: string };

export function EditMany({ open, setOpen, ids, columns, column: first }: Props) {
  const game = useGame((state) => state.game);
  const cards = useGame((state) => state.cards);
  const fields = columns.filter((column) => editable(column) && column.kind !== "code" && column.kind !== "picture");
  const [chosen, setChosen] = useState("");
  const [text, setText] = useState("");
  if (!game) return null;
  const column = fields.find((each) => each.id === (chosen || first)) ?? fields[0];
  const there = ids.map((id) => cards[id]).filter((card) => card && column && applies(game, card, column));
  const now = new Set(there.map((card) => (card && column ? cellText(game, card, column) : "")));
  const offered = column ? choicesOf(game, column, undefined) : [];
  const write = async () => {
    if (!column) return;
    setOpen(false);
    const cells = there.flatMap((card) => (card ? [{ card: card.id, field: column.id, typed: text }] : []));
    await writeCells(cells, [], `${column.name.toLowerCase()} of ${counted(cells.length, "card")}`);
    setText("");
  };
  return (
    <SheetDialog
      open={open}
      setOpen={setOpen}
      title={`Edit ${counted(ids.length, "card")}`}
      about="One step; undo takes all of it back."
    >
      <form
        className="form"
        onSubmit={(event) => {
          event.preventDefault();
          void write();
        }}
      >
        <label>
          Field
          <select className="select" value={column?.id} onChange={(event) => setChosen(event.target.value)}>
            {fields.map((each) => (
              <option key={each.id} value={each.id}>
                {each.name}
              </option>
            ))}
          </select>
        </label>
        <label>
          becomes
          <input
            className="input"
            list="edit-many-values"
            value={text}
            placeholder="empty"
            onChange={(event) => setText(event.target.value)}
          />
          <datalist id="edit-many-values">
            {offered.slice(0, 200).map((value) => (
              <option key={value} value={value} />
            ))}
          </datalist>
        </label>
        <p className="soft">
          Now:{" "}
          {[...now]
            .slice(0, 4)
            .map((value) => value.slice(0, 40) || "empty")
            .join(", ")}
          {now.size > 4 ? ` and ${now.size - 4} more` : ""}
        </p>
      </form>
      <SheetFoot
        act={`Write to ${counted(there.length, "card")}`}
        ready={there.length > 0}
        onAct={() => void write()}
        cancel={() => setOpen(false)}
      >
        {there.length < ids.length && <span className="soft">{ids.length - there.length} have no such field</span>}
      </SheetFoot>
    </SheetDialog>
  );
}
