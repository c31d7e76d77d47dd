// The game's resources: names, symbol, start value, amount per turn.
import { Trash2 } from "lucide-react";
import { useGame } from "../../state/store";
import { NewNameInput } from "../../ui/NewNameInput";
import { SymbolMark } from "../../ui/SymbolMark";
import { Counting, Picking, Ticking, Typing } from "../../ui/Typing";
import { freeId } from "../ids";
import { SYMBOLS, symbolsWith } from "../symbols";
import type { Resource, Write } from "../useParts";

export function ResourcesEditor({ resources, write }: { resources: Resource[]; write: Write }) {
  const symbols = useGame((state) => state.game?.symbols ?? []);
  const own = useGame((state) => state.game?.own_symbols);
  const put = (at: number, part: Partial<Resource>) =>
    void write(
      "resources",
      resources.map((each, place) => (place === at ? { ...each, ...part } : each)),
    );
  const add = (name: string) => {
    const id = freeId(name, resources);
    const made: Resource = {
      id,
      name,
      names: name,
      symbol: SYMBOLS[resources.length % 6] ?? "coin",
      start: 0,
      each_turn: 0,
      cap: null,
      shared: false,
      refill: false,
    };
    return write("resources", [...resources, made]);
  };
  return (
    <>
      <p className="soft">Effects gain and lose them by their names; what pays for cards is said under At the table.</p>
      <ul className="part-list">
        {resources.map((each, at) => {
          const drawn = symbols.find((symbol) => symbol.id === each.id);
          return (
            <li key={each.id} className="part-line" aria-label={each.name}>
              <SymbolMark symbol={drawn} size={22} className="part-symbol" />
              <Typing label="Name of one" value={each.name} commit={(name) => put(at, { name })} />
              <Typing label="Of several" value={each.names} commit={(names) => put(at, { names })} />
              <Picking
                label="Symbol"
                value={each.symbol}
                options={symbolsWith([each.symbol], own)}
                commit={(symbol) => put(at, { symbol })}
              />
              <Counting
                label="At the start"
                value={each.start}
                commit={(start) => put(at, { start: start ?? each.start })}
              />
              <Counting
                label="Each turn"
                value={each.each_turn}
                commit={(each_turn) => put(at, { each_turn: each_turn ?? each.each_turn })}
              />
              <Counting label="At most" none="no cap" value={each.cap} commit={(cap) => put(at, { cap })} />
              <Ticking
                label="shared"
                help="One for the table, not one for each player"
                value={each.shared}
                commit={(shared) => put(at, { shared })}
              />
              <Ticking
                label="filled up"
                help="Each turn it is filled up to what it would be had nothing been spent, and does not add up"
                value={each.refill}
                commit={(refill) => put(at, { refill })}
              />
              <Ticking
                label="Lost at the end of the turn"
                value={each.lasts === "turn"}
                commit={(turn) => put(at, { lasts: turn ? "turn" : "kept" })}
              />
              <button
                type="button"
                className="icon-button"
                aria-label={`Remove ${each.name}`}
                title="Refused while effects refer to it"
                onClick={() =>
                  void write(
                    "resources",
                    resources.filter((_, place) => place !== at),
                  )
                }
              >
                <Trash2 size={15} aria-hidden="true" />
              </button>
            </li>
          );
        })}
      </ul>
      <NewNameInput label="New resource" does="Add" add={add} />
    </>
  );
}
