import { FileInput, Plus } from "lucide-react";
import { DropdownMenu } from "radix-ui";
import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { useSearchParams } from "react-router";
import { addCard, useGame } from "../state/game";
import { type Typed, useSheet } from "../state/sheet";
import { CardPane } from "./CardPane";
import { type Cell, columnsOf } from "./columns";
import { FILTERS, type FilterId, passes } from "./filters";
import { Grid, type GridHandle } from "./Grid";
import { ImportDialog } from "./ImportDialog";

/** The grid, and beside it the card one stands on. */
export function CardsPage() {
  const { game, cards, order, standings } = useGame();
  const [params, setParams] = useSearchParams();
  const [filter, setFilter] = useState<FilterId>((params.get("show") as FilterId) ?? "all");
  const [text, setText] = useState(params.get("q") ?? "");
  const [setId, setSetId] = useState(params.get("set") ?? "");
  const [typed, setTyped] = useState<Typed>(null);
  const [importing, setImporting] = useState(false);
  const [at, setAt] = useState<Cell>({
    card: params.get("card") ?? order[0] ?? "",
    column: params.get("field") ?? "name",
  });
  const grid = useRef<GridHandle>(null);
  const columns = useMemo(() => (game ? columnsOf(game) : []), [game]);

  const rows = useMemo(
    () =>
      order.filter((id) => {
        const card = cards[id];
        return card && (!setId || card.set === setId) && passes(card, standings[id], filter, text);
      }),
    [order, cards, standings, filter, text, setId],
  );

  const written = useRef(new Set<string>());
  // The place is in the URL; arrows would flood the history, so it is replaced, and a little later.
  useEffect(() => {
    const timer = setTimeout(() => {
      // While another room is being fetched this one still stands, but the address is no longer its own.
      if (!window.location.pathname.endsWith("/cards")) return;
      const next: Record<string, string> = { card: at.card, field: at.column };
      if (filter !== "all") next.show = filter;
      if (text) next.q = text;
      if (setId) next.set = setId;
      if (new URLSearchParams(window.location.search).get("card") !== at.card) written.current.add(at.card);
      setParams(next, { replace: true });
    }, 250);
    return () => clearTimeout(timer);
  }, [at, filter, text, setId, setParams]);

  // A link from elsewhere names a card: stand on it. The address comes late to a page that is being typed in, so that
  // only a card which this page did not write there itself is such a link.
  const asked = params.get("card");
  const seen = useRef(asked);
  useEffect(() => {
    if (!asked || asked === seen.current || !cards[asked]) return;
    seen.current = asked;
    if (written.current.has(asked)) {
      written.current.clear();
      return;
    }
    setAt((before) => (before.card === asked ? before : { ...before, card: asked }));
    if (!rowsNow.current.includes(asked)) {
      setFilter("all");
      setText("");
      setSetId("");
    }
  }, [asked, cards]);
  const rowsNow = useRef(rows);
  rowsNow.current = rows;

  const counts = useCounts(setId);
  const card = cards[at.card];
  const sheet = useSheet(game?.id ?? "", card ? card.id : null, card?.revision ?? 0, typed);
  const preview = useCallback((next: Typed) => setTyped(next), []);
  const backToGrid = useCallback(() => grid.current?.focus(), []);

  if (!game) return null;
  const addNew = async (type: string) => {
    const edit = await addCard(type, setId || (game.sets[0]?.id ?? ""));
    if (edit?.made) {
      setFilter("all");
      setText("");
      setAt({ card: edit.made, column: "name" });
      grid.current?.focus();
    }
  };
  return (
    <div className="cards-room">
      <section className="cards-list" aria-label="Cards">
        <div className="toolbar">
          <label className="unseen" htmlFor="card-set">
            Set
          </label>
          <select id="card-set" className="select" value={setId} onChange={(event) => setSetId(event.target.value)}>
            <option value="">All sets</option>
            {game.sets.map((set) => (
              <option key={set.id} value={set.id}>
                {set.name}
              </option>
            ))}
          </select>
          <input
            type="search"
            className="input search"
            placeholder="Filter by name, text, tag"
            aria-label="Filter cards"
            value={text}
            onChange={(event) => setText(event.target.value)}
          />
          <span className="toolbar-end">
            <button type="button" className="button" onClick={() => setImporting(true)}>
              <FileInput size={15} aria-hidden="true" /> Import
            </button>
            <DropdownMenu.Root>
              <DropdownMenu.Trigger className="button">
                <Plus size={15} aria-hidden="true" /> New card
              </DropdownMenu.Trigger>
              <DropdownMenu.Portal>
                <DropdownMenu.Content
                  className="menu"
                  align="end"
                  sideOffset={4}
                  onCloseAutoFocus={(event) => event.preventDefault()}
                >
                  {game.types.map((type) => (
                    <DropdownMenu.Item key={type.id} className="menu-item" onSelect={() => void addNew(type.id)}>
                      {type.name}
                    </DropdownMenu.Item>
                  ))}
                </DropdownMenu.Content>
              </DropdownMenu.Portal>
            </DropdownMenu.Root>
          </span>
        </div>
        <div className="toolbar toolbar-low">
          <fieldset className="chips" aria-label="Show only">
            {FILTERS.filter(({ id }) => id !== "all").map(({ id, label, help }) => (
              <button
                key={id}
                type="button"
                className="chip"
                title={help}
                aria-pressed={filter === id}
                onClick={() => setFilter(filter === id ? "all" : id)}
              >
                {label} <span className="chip-count">{counts[id]}</span>
              </button>
            ))}
          </fieldset>
          <span className="toolbar-end soft" aria-live="polite">
            {rows.length} of {order.length} cards
          </span>
        </div>
        {rows.length ? (
          <Grid ref={grid} rows={rows} columns={columns} at={at} setAt={setAt} preview={preview} />
        ) : (
          <div className="empty">
            <p>No card answers to this filter.</p>
            <button
              type="button"
              className="button"
              onClick={() => {
                setFilter("all");
                setText("");
                setSetId("");
              }}
            >
              Show all {order.length} cards
            </button>
          </div>
        )}
      </section>
      {card ? (
        <CardPane
          key={card.id}
          card={card}
          sheet={sheet}
          field={at.column}
          setField={(column) => setAt({ card: at.card, column })}
          preview={preview}
          leave={backToGrid}
        />
      ) : (
        <aside className="pane" aria-label="Card" />
      )}
      <ImportDialog open={importing} setOpen={setImporting} done={(set) => setSetId(set)} />
    </div>
  );
}

/** How many cards each filter would show. */
function useCounts(setId: string): Record<FilterId, number> {
  const { cards, order, standings } = useGame();
  return useMemo(() => {
    const inSet = order.filter((id) => !setId || cards[id]?.set === setId);
    const count = (filter: FilterId) => inSet.filter((id) => passes(cards[id], standings[id], filter, "")).length;
    return Object.fromEntries(FILTERS.map(({ id }) => [id, count(id)])) as Record<FilterId, number>;
  }, [cards, order, standings, setId]);
}
