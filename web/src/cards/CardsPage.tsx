import { Columns3, FileInput, LayoutGrid, Replace, Rows3 } from "lucide-react";
import { lazy, Suspense, useCallback, useEffect, useMemo, useRef, useState } from "react";
import { useLocation } from "react-router";
import { QueryBar, whole } from "../query/components/QueryBar";
import { type Sort, useFound } from "../query/useFound";
import { useAddress } from "../state/address";
import { useAfterPaint } from "../state/afterPaint";
import { takeCardsOut, writeCells } from "../state/cells";
import { newCardId } from "../state/pending";
import { fetched } from "../state/retry";
import { useGame } from "../state/store";
import { counted } from "../ui/plural";
import { MOST_COMPARED, rangeOf } from "../ui/selection";
import { useWindowKeys } from "../ui/windowKeys";
import { addressFor, type Groups, groupsFor, type Look, placeFrom, readSort } from "./cardsAddress";
import { asLayout, fitted, moved, NARROWEST, useLayout, WIDEST } from "./columnLayout";
import { type Cell, columnsOf, NEW } from "./columns";
import { CardSidePane } from "./components/CardSidePane";
import { CardsDialogs } from "./components/CardsDialogs";
import { FirstSteps } from "./components/FirstSteps";
import { Grid } from "./components/Grid";
import { NewCardMenu } from "./components/NewCardMenu";
import { QuickChips } from "./components/QuickChips";
import { ViewsMenu } from "./components/ViewsMenu";
import { WallControls } from "./components/WallControls";
import type { CardsDialog, GridHandle } from "./types";
import { useRoom } from "./useBoxSize";
import { type Arrival, useCardsAddress } from "./useCardsAddress";

const Wall = lazy(() => fetched(() => import("./components/Wall")).then((room) => ({ default: room.Wall })));

/** Cards: the grid or the wall, with the pane of the focused card. */
export function CardsPage() {
  const game = useGame((state) => state.game);
  const cards = useGame((state) => state.cards);
  const order = useGame((state) => state.order);
  const [params] = useAddress();
  const [first] = useState(() => placeFrom(params));
  const [chips, setChips] = useState<string[]>(first.query ? [first.query] : []);
  const [draft, setDraft] = useState("");
  const [setId, setSetId] = useState(first.set);
  const [sort, setSort] = useState<Sort[]>(first.sort);
  const [look, setLook] = useState<Look>(first.look);
  const [groups, setGroups] = useState<Groups>(first.groups);
  const [dialog, setDialog] = useState<CardsDialog>(null);
  const [at, setAt] = useState<Cell>({
    card: first.card ?? order[0] ?? "",
    column: first.column ?? game?.roles.name ?? "name",
  });
  const [head, setHead] = useState<Cell | null>(null);
  const grid = useRef<GridHandle>(null);
  const bar = useRef<HTMLInputElement>(null);
  const location = useLocation();
  /** The grid is to be stood in as soon as it is there. */
  const toGrid = useRef((location.state as { stand?: boolean } | null)?.stand ?? false);
  useEffect(() => {
    if (!toGrid.current || !grid.current) return;
    toGrid.current = false;
    grid.current.focus();
  });
  // The grid takes the focus when the room opens, unless something else has it.
  const opened = useRef(false);
  useEffect(() => {
    if (opened.current || !grid.current) return;
    opened.current = true;
    const held = document.activeElement;
    if (!held || held === document.body) grid.current.focus();
  });
  const [layout, changeLayout] = useLayout(game?.id ?? "");
  const every = useMemo(() => (game ? columnsOf(game) : []), [game]);
  // A column that the game does not have, as an old address may name, would leave every key without a cell: the name is there.
  useEffect(() => {
    if (every.length && !every.some((column) => column.id === at.column))
      setAt((before) => ({ ...before, column: game?.roles.name ?? every[0]?.id ?? "" }));
  }, [every, at.column, game?.roles.name]);
  const [list, room] = useRoom();
  const columns = useMemo(() => fitted(every, layout, room), [every, layout, room]);
  const query = whole(chips, draft);
  const found = useFound(query, whole(chips, ""), sort, setId);
  const { rows, include } = found;

  // A query from the address comes as one piece; once it is read its conditions are chips.
  const { answered, parts, problem } = found;
  useEffect(() => {
    if (!draft && chips.length === 1 && answered === chips[0] && !problem && parts.length > 1)
      setChips(parts.map((part) => part.text));
  }, [answered, parts, problem, chips, draft]);

  const fitting = useMemo(() => groupsFor(game?.groupable ?? [], game?.roles, groups), [game, groups]);
  const rowsNow = useRef(rows);
  rowsNow.current = rows;
  const arrive = useCallback(({ place, back, stand }: Arrival) => {
    setHead(null);
    setAt((before) => ({ card: place.card ?? before.card, column: place.column ?? before.column }));
    if (back || !rowsNow.current.includes(place.card ?? "")) {
      setChips(back && place.query ? [place.query] : []);
      setDraft("");
      setSetId(back ? place.set : "");
    }
    if (back) {
      setSort(place.sort);
      setLook(place.look);
      if (place.look === "wall") setGroups(place.groups);
    }
    if (stand) grid.current?.focus();
  }, []);
  useCardsAddress(addressFor(at, query, setId, sort, look, fitting), cards, arrive);
  // What one stands on is among what is shown: a query or a set that leaves the card out leads to its first.
  useEffect(() => {
    if ((!query && !setId) || answered !== query || problem || !rows[0] || at.card === NEW || rows.includes(at.card))
      return;
    setHead(null);
    setAt((before) => ({ ...before, card: rows[0] ?? before.card }));
  }, [rows, query, setId, answered, problem, at.card]);

  useWindowKeys((event) => {
    const target = event.target as HTMLElement;
    if (
      event.key === "/" &&
      !target.closest("input, textarea, select, [contenteditable=true], [role=grid], [role=dialog]")
    ) {
      event.preventDefault();
      bar.current?.focus();
    } else if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === "f" && !event.shiftKey) {
      event.preventDefault();
      bar.current?.focus();
    } else if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === "h") {
      event.preventDefault();
      setDialog("replace");
    } else if (target === document.body && event.key.startsWith("Arrow") && grid.current) {
      // Without a focus, as after opening the address, arrow keys go to the marked cell.
      event.preventDefault();
      grid.current.focus();
    }
  });

  // A game without cards begins in its last line.
  useEffect(() => {
    if (!order.length && at.card !== NEW) setAt((before) => ({ card: NEW, column: before.column }));
  }, [order.length, at.card]);
  const card = cards[at.card];
  // The pane is rendered one frame later, so that moving in the grid is never delayed.
  const [beside, paneCatchUp] = useAfterPaint(at);
  /** Who stands in the last line sees the card that was written there last. */
  const [latest, setLatest] = useState("");
  const besideCard = cards[beside.card === NEW ? latest : beside.card];
  const madeInLine = useCallback(
    (ids: string[]) => {
      include(ids);
      setLatest(ids.at(-1) ?? "");
    },
    [include],
  );
  const setField = useCallback((column: string) => setAt((before) => ({ ...before, column })), []);
  const backToGrid = useCallback(() => grid.current?.focus(), []);
  const made = useCallback(
    (ids: string[]) => {
      include(ids);
      const [first] = ids;
      if (!first) return;
      setLatest(first);
      setHead(null);
      setAt((before) => ({ card: first, column: before.column }));
      grid.current?.focus();
    },
    [include],
  );
  const sortBy = useCallback(
    (column: string, more: boolean) =>
      setSort((before) => {
        const mine = before.find((each) => each.field === column);
        const next = !mine ? { field: column, down: false } : mine.down ? null : { field: column, down: true };
        if (!more) return next ? [next] : [];
        const rest = before.filter((each) => each.field !== column);
        if (!next) return rest;
        return mine ? before.map((each) => (each.field === column ? next : each)) : [...rest, next];
      }),
    [],
  );
  const resize = useCallback(
    (column: string, width: number) =>
      changeLayout((before) => ({
        ...before,
        widths: { ...before.widths, [column]: Math.max(NARROWEST, Math.min(WIDEST, Math.round(width))) },
      })),
    [changeLayout],
  );
  const moveColumn = useCallback(
    (column: string, by: number) => changeLayout((before) => moved(every, before, column, by)),
    [changeLayout, every],
  );

  const selected = useMemo(() => {
    if (!head) return cards[at.card] ? [at.card] : [];
    const places = new Map(rows.map((id, index) => [id, index]));
    const range = rangeOf(at, head, places, columns);
    return range ? rows.slice(range.top, range.bottom + 1) : [];
  }, [rows, at, head, columns, cards]);

  if (!game) return null;
  const addNew = (type: string) => {
    const id = newCardId();
    // Cards of one's own do not join the sample cards of a template.
    const home = game.sets.find((each) => !each.samples) ?? game.sets[0];
    void writeCells([], [{ id, type, set: setId || (home?.id ?? ""), typed: {} }]);
    include([id]);
    setLatest(id);
    setLook("grid");
    setHead(null);
    setAt({ card: id, column: game.roles.name ?? "name" });
    toGrid.current = true;
  };
  const toggle = (flag: string) =>
    setChips(chips.includes(flag) ? chips.filter((chip) => chip !== flag) : [...chips, flag]);
  const clear = () => {
    setChips([]);
    setDraft("");
    setSetId("");
  };
  const openView = (doc: Record<string, unknown>) => {
    setChips([String(doc.query ?? "")].filter(Boolean));
    setDraft("");
    setSort(readSort(typeof doc.sort === "string" ? doc.sort : null));
    setLook(doc.look === "wall" ? "wall" : "grid");
    setSetId(game.sets.some((set) => set.id === doc.set) ? String(doc.set) : "");
    if (doc.groups && typeof doc.groups === "object") setGroups({ ...groups, ...(doc.groups as Groups) });
    if (doc.layout) changeLayout(() => asLayout(doc.layout as never));
  };
  const currentView = () => ({
    query,
    sort: sort.map((each) => `${each.down ? "-" : ""}${each.field}`).join(","),
    look,
    set: setId,
    groups: fitting,
    layout,
  });
  const many = selected.length > 1;
  return (
    <div className="cards-room">
      <section className="cards-list" aria-label="Cards" ref={list}>
        <div className="toolbar">
          <fieldset className="look" aria-label="Look at the cards as">
            <button type="button" aria-pressed={look === "grid"} onClick={() => setLook("grid")} title="As a grid">
              <Rows3 size={15} aria-hidden="true" /> Grid
            </button>
            <button
              type="button"
              aria-pressed={look === "wall"}
              onClick={() => setLook("wall")}
              title="As a wall of faces"
            >
              <LayoutGrid size={15} aria-hidden="true" /> Wall
            </button>
          </fieldset>
          {game.sets.length > 1 && (
            <>
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
            </>
          )}
          <QueryBar
            ref={bar}
            chips={chips}
            setChips={setChips}
            draft={draft}
            setDraft={setDraft}
            found={found}
            leave={backToGrid}
          />
          <ViewsMenu current={currentView} open={openView} />
          <button type="button" className="button" onClick={() => setDialog("import")}>
            <FileInput size={15} aria-hidden="true" /> Import
          </button>
          <NewCardMenu card={card} selected={selected} add={addNew} made={made} open={setDialog} />
        </div>
        <div className="toolbar toolbar-low">
          <QuickChips chips={chips} toggle={toggle} setId={setId} />
          <span className="toolbar-end">
            {look === "wall" ? (
              <WallControls groups={fitting} setGroups={setGroups} />
            ) : many ? (
              <span className="selected">
                {selected.length} selected
                {selected.length <= MOST_COMPARED && (
                  <button type="button" className="small-button" onClick={() => setDialog("compare")}>
                    Compare
                  </button>
                )}
                <button type="button" className="small-button" onClick={() => setDialog("many")}>
                  Edit all…
                </button>
                <button
                  type="button"
                  className="small-button"
                  onClick={() => {
                    setHead(null);
                    void takeCardsOut(selected);
                  }}
                >
                  Remove
                </button>
              </span>
            ) : (
              <>
                <button
                  type="button"
                  className="icon-button"
                  onClick={() => setDialog("replace")}
                  aria-label="Replace"
                  title="Find and replace (Ctrl+H)"
                >
                  <Replace size={15} aria-hidden="true" />
                </button>
                <button
                  type="button"
                  className="icon-button"
                  onClick={() => setDialog("columns")}
                  aria-label="Columns"
                  title="Columns: which are shown, in which order"
                >
                  <Columns3 size={15} aria-hidden="true" />
                </button>
              </>
            )}
            {/* Its place is always kept: a button that comes with an answer must not move the rows under the pointer. */}
            <button
              type="button"
              className={`small-button refresh ${found.stale > 0 ? "" : "refresh-none"}`}
              onClick={found.refresh}
              disabled={!found.stale}
              title="Edits changed which cards match, or their order"
            >
              Refresh
            </button>
            {!(many && look === "grid") && (
              <span className="soft" aria-live="polite">
                {found.waiting > 0 ? `judging ${found.waiting}… ` : ""}
                {rows.length} of {order.length} {order.length === 1 ? "card" : "cards"}
              </span>
            )}
          </span>
        </div>
        <FirstSteps key={game.id} />
        {look === "wall" ? (
          <Suspense fallback={<div className="loading">Laying out the wall…</div>}>
            <Wall
              query={problem ? "" : query}
              setId={setId}
              {...fitting}
              at={at.card}
              choose={(id) => setAt({ ...at, card: id })}
              opened={(id) => {
                setLook("grid");
                setAt({ card: id, column: game.roles.name ?? "name" });
                include([id], false);
                toGrid.current = true;
              }}
            />
          </Suspense>
        ) : rows.length || !order.length || !query ? (
          <Grid
            ref={grid}
            rows={rows}
            columns={columns}
            frozen={Math.min(layout.frozen, columns.length)}
            at={at}
            setAt={setAt}
            head={head}
            setHead={setHead}
            sort={sort}
            sortBy={sortBy}
            resize={resize}
            moveColumn={moveColumn}
            setId={setId}
            made={madeInLine}
            paneCatchUp={paneCatchUp}
          />
        ) : (
          <div className="empty">
            <p>
              {found.waiting ? "The cards are being checked; those that match will appear here." : "No cards match."}
            </p>
            <button type="button" className="button" onClick={clear}>
              Show all {counted(order.length, "card")}
            </button>
          </div>
        )}
      </section>
      {besideCard && (rows.length > 0 || look === "wall") ? (
        <CardSidePane
          card={besideCard}
          field={beside.column}
          setField={setField}
          leave={backToGrid}
          others={selected}
        />
      ) : (
        <aside className="pane pane-empty" data-pane aria-label="Card">
          <p className="soft">
            {order.length
              ? "Select a card to see its face."
              : "Type in the last row of the grid to add the first card."}
          </p>
        </aside>
      )}
      <CardsDialogs
        dialog={dialog}
        setDialog={setDialog}
        chooseSet={setSetId}
        columns={every}
        layout={layout}
        changeLayout={changeLayout}
        sort={sort}
        setSort={setSort}
        selected={selected}
        card={card}
        column={at.column}
        made={made}
        query={problem ? "" : query}
        setId={setId}
      />
    </div>
  );
}
