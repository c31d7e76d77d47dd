// Export of tables: lossless ones for import, and text tables for other programs.

import { ArrowDown, ArrowUp, Download, Plus, Trash2 } from "lucide-react";
import { useState } from "react";
import type { Schemas } from "../../state/client";
import { useSettled } from "../../state/debounced";
import { useExampleQuery } from "../../state/examples";
import { useAsked, useTouched } from "../../state/query";
import { useGame } from "../../state/store";
import { change } from "../../state/writing";
import { counted } from "../../ui/plural";
import * as requests from "../api";
import { WRITTEN_FORMATS } from "../tableFormats";
import { TablePreview } from "./TablePreview";

type Table = Schemas["TextTable"];
type Column = NonNullable<Table["columns"]>[number];
type Text = Schemas["TextOut"];
const NEW: Table = {
  name: "",
  columns: [
    { heading: "Name", front: ["title"], back: [], join: " " },
    { heading: "Copies", front: ["copies"], back: [], join: " " },
  ],
  separator: "tab",
  header: true,
  quotes: "needed",
  newlines: "keep",
  line_end: "lf",
  sides: "front",
  side_join: " | ",
  each_copy: false,
  guard: true,
  query: "",
};

export function TableExportPart() {
  const example = useExampleQuery();
  const game = useGame((state) => state.game);
  const [query, setQuery] = useState("");
  const touched = useTouched("layout", "game");
  const asking = () => requests.layouts({ params: { path: { game_id: game?.id ?? "" } } });
  const { found } = useAsked<Schemas["LayoutsOut"]>(asking, [game?.id, touched]);
  const seq = useGame((state) => state.seq);
  const wanted = useSettled(query);
  const look = useAsked<Schemas["TableLookOut"]>(
    () =>
      requests.exportLook({
        params: { path: { game_id: game?.id ?? "" }, query: { query: wanted } },
      }),
    [game?.id, wanted, seq],
  );
  const [editing, setEditing] = useState<{ id: string | null; table: Table } | null>(null);
  if (!game) return null;
  const link = (format: string) => `/api/games/${game.id}/export?format=${format}&query=${encodeURIComponent(query)}`;
  return (
    <>
      <h1>Tables out</h1>
      <p className="soft files-about">
        These come back cell for cell: change them in a spreadsheet, then import them as an update by code.
      </p>
      <label className="files-query">
        Only cards that match{" "}
        <input
          className="input"
          placeholder={`every card, or a query: ${example}`}
          value={query}
          onChange={(event) => setQuery(event.target.value)}
        />
      </label>
      <div className="files-formats">
        {WRITTEN_FORMATS.map(([format, name, told]) => (
          <a
            key={format}
            className="files-format"
            href={look.trouble ? undefined : link(format)}
            aria-disabled={look.trouble !== null}
            download
          >
            <b>
              <Download size={14} aria-hidden="true" /> {name}
            </b>
            <span className="soft">{told}</span>
          </a>
        ))}
      </div>
      <TablePreview look={look.found} trouble={look.trouble} />
      <h2 className="files-head">
        Text tables
        <button type="button" className="button" onClick={() => setEditing({ id: null, table: NEW })}>
          <Plus size={14} aria-hidden="true" /> New text table
        </button>
      </h2>
      <p className="soft files-about">
        Laid out once for another program: which columns in which order, what stands between them, and how fronts and
        backs are joined.
      </p>
      {found && found.layouts.length === 0 && !editing && <p className="empty">No text table is laid out yet.</p>}
      <ul className="files-list">
        {found?.layouts.map(({ id, table }) => (
          <li key={id} className="files-line">
            <b>{table.name}</b>
            <span className="soft">
              {counted(table.columns?.length ?? 0, "column")}, {table.separator} between
            </span>
            <span className="files-acts">
              <button type="button" className="small-button" onClick={() => setEditing({ id, table })}>
                Change
              </button>
              <a className="small-button" href={`/api/games/${game.id}/layouts/${id}/text`} download>
                Download
              </a>
              <button
                type="button"
                className="icon-button"
                aria-label={`Remove ${table.name}`}
                onClick={() =>
                  void change((game_id, key) =>
                    requests.takeLayoutOut({
                      params: { path: { game_id, layout_id: id }, header: { "idempotency-key": key } },
                    }),
                  )
                }
              >
                <Trash2 size={13} aria-hidden="true" />
              </button>
            </span>
          </li>
        ))}
      </ul>
      {editing && found && (
        <LayoutEditor
          key={editing.id ?? "new"}
          id={editing.id}
          table={editing.table}
          sources={found.sources}
          close={() => setEditing(null)}
        />
      )}
    </>
  );
}

type EditorProps = { id: string | null; table: Table; sources: Schemas["SourceOut"][]; close: () => void };

function LayoutEditor({ id, table: first, sources, close }: EditorProps) {
  const game = useGame((state) => state.game?.id ?? "");
  const [table, setTable] = useState(first);
  const wanted = useSettled(table);
  const { found: text, trouble } = useAsked<Text>(
    () =>
      requests.lookAtLayout({
        params: { path: { game_id: game } },
        body: { ...wanted, name: wanted.name || "table" },
      }),
    [game, wanted],
  );
  const columns = table.columns ?? [];
  const set = (part: Partial<Table>) => setTable({ ...table, ...part });
  const setColumn = (index: number, part: Partial<Column>) =>
    set({ columns: columns.map((each, place) => (place === index ? { ...each, ...part } : each)) });
  const move = (index: number, by: number) => {
    const next = [...columns];
    const [taken] = next.splice(index, 1);
    if (taken) next.splice(Math.max(0, index + by), 0, taken);
    set({ columns: next });
  };
  const save = async () => {
    const done = await change((game_id, key) =>
      id
        ? requests.putLayout({
            params: { path: { game_id, layout_id: id }, header: { "idempotency-key": key } },
            body: table,
          })
        : requests.newLayout({
            params: { path: { game_id }, header: { "idempotency-key": key } },
            body: table,
          }),
    );
    if (done) close();
  };
  const twoSided = table.sides !== "front";
  return (
    <section className="layout-editor" aria-label="Text table">
      <div className="layout-options">
        <label>
          Name
          <input
            className="input"
            // biome-ignore lint/a11y/noAutofocus: it was just asked for
            autoFocus
            value={table.name}
            onChange={(event) => set({ name: event.target.value })}
          />
        </label>
        <label>
          Between cells
          <input
            className="input"
            list="separators"
            value={table.separator}
            onChange={(event) => set({ separator: event.target.value })}
          />
          <datalist id="separators">
            {["tab", "comma", "semicolon", "bar"].map((each) => (
              <option key={each} value={each} />
            ))}
          </datalist>
        </label>
        <Choice
          label="Quotes"
          value={table.quotes ?? "needed"}
          of={{ needed: "where needed", always: "always", never: "never" }}
          choose={(quotes) => set({ quotes })}
        />
        <Choice
          label="Line breaks in cells"
          value={table.newlines ?? "keep"}
          of={{ keep: "as they are", blank: "a blank", escape: "\\n" }}
          choose={(newlines) => set({ newlines })}
        />
        <Choice
          label="Line ends"
          value={table.line_end ?? "lf"}
          of={{ lf: "LF", crlf: "CR LF" }}
          choose={(line_end) => set({ line_end })}
        />
        <Choice
          label="Front and back"
          value={table.sides ?? "front"}
          of={{ front: "front only", joined: "joined in one cell", lines: "two lines" }}
          choose={(sides) => set({ sides })}
        />
        {table.sides === "joined" && (
          <label>
            Between front and back
            <input
              className="input"
              value={table.side_join}
              onChange={(event) => set({ side_join: event.target.value })}
            />
          </label>
        )}
        <label>
          Only cards that match
          <input
            className="input"
            placeholder="every card"
            value={table.query}
            onChange={(event) => set({ query: event.target.value })}
          />
        </label>
        <Tick label="Header line" on={table.header ?? true} turn={(header) => set({ header })} />
        <Tick label="A line for each copy" on={table.each_copy ?? false} turn={(each_copy) => set({ each_copy })} />
        <Tick
          label="Guard cells that a spreadsheet would run"
          on={table.guard ?? true}
          turn={(guard) => set({ guard })}
        />
      </div>
      <table className="layout-columns">
        <thead>
          <tr>
            <th scope="col">Heading</th>
            <th scope="col">Shows</th>
            {twoSided && <th scope="col">Of the back</th>}
            <th scope="col">Joined by</th>
            <th scope="col" aria-label="Order" />
          </tr>
        </thead>
        <tbody>
          {columns.map((column, index) => (
            <tr key={index}>
              <td>
                <input
                  className="input"
                  aria-label={`Heading of column ${index + 1}`}
                  value={column.heading}
                  onChange={(event) => setColumn(index, { heading: event.target.value })}
                />
              </td>
              <td>
                <Sources
                  label={`Column ${index + 1} shows`}
                  chosen={column.front ?? []}
                  sources={sources}
                  choose={(front) => setColumn(index, { front, heading: column.heading || nameOf(front[0], sources) })}
                />
              </td>
              {twoSided && (
                <td>
                  <Sources
                    label={`Column ${index + 1} shows of the back`}
                    chosen={column.back ?? []}
                    sources={sources}
                    choose={(back) => setColumn(index, { back })}
                  />
                </td>
              )}
              <td>
                <input
                  className="input layout-join"
                  aria-label={`Column ${index + 1} joined by`}
                  value={column.join}
                  onChange={(event) => setColumn(index, { join: event.target.value })}
                />
              </td>
              <td className="layout-order">
                <button
                  type="button"
                  className="icon-button"
                  aria-label={`Column ${index + 1} up`}
                  disabled={index === 0}
                  onClick={() => move(index, -1)}
                >
                  <ArrowUp size={13} aria-hidden="true" />
                </button>
                <button
                  type="button"
                  className="icon-button"
                  aria-label={`Column ${index + 1} down`}
                  disabled={index === columns.length - 1}
                  onClick={() => move(index, 1)}
                >
                  <ArrowDown size={13} aria-hidden="true" />
                </button>
                <button
                  type="button"
                  className="icon-button"
                  aria-label={`Remove column ${index + 1}`}
                  onClick={() => set({ columns: columns.filter((_, place) => place !== index) })}
                >
                  <Trash2 size={13} aria-hidden="true" />
                </button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <button
        type="button"
        className="small-button"
        onClick={() => set({ columns: [...columns, { heading: "", front: [], back: [], join: " " }] })}
      >
        <Plus size={13} aria-hidden="true" /> Column
      </button>
      {trouble && (
        <p role="alert" className="trouble">
          <b className="needs">{trouble.detail}</b> — {trouble.mend}
        </p>
      )}
      {text && (
        <>
          <h3>{counted(text.count, "line")}; the first of them</h3>
          <pre className="layout-text" aria-label="First lines of the text table">
            {text.lines.map((line) => line.replaceAll("\t", "\u2192\t")).join("\n")}
          </pre>
          {text.notes.map((note) => (
            <p key={note} className="soft">
              {note}
            </p>
          ))}
        </>
      )}
      <div className="files-foot">
        <button type="button" className="button" onClick={close}>
          Cancel
        </button>
        <button
          type="button"
          className="button button-main"
          disabled={!table.name.trim() || trouble !== null}
          onClick={() => void save()}
        >
          Save the table
        </button>
      </div>
    </section>
  );
}

const nameOf = (source: string | undefined, sources: Schemas["SourceOut"][]): string =>
  sources.find((each) => each.id === source)?.name ?? "";

type SourcesProps = {
  label: string;
  chosen: string[];
  sources: Schemas["SourceOut"][];
  choose: (chosen: string[]) => void;
};

function Sources({ label, chosen, sources, choose }: SourcesProps) {
  return (
    <span className="layout-sources">
      {chosen.map((source) => (
        <button
          key={source}
          type="button"
          className="query-chip"
          title="Remove"
          onClick={() => choose(chosen.filter((each) => each !== source))}
        >
          {nameOf(source, sources) || source} ×
        </button>
      ))}
      <select
        className="select"
        aria-label={label}
        value=""
        onChange={(event) => event.target.value && choose([...chosen, event.target.value])}
      >
        <option value="">{chosen.length ? "and…" : "choose…"}</option>
        {sources
          .filter((each) => !chosen.includes(each.id))
          .map((each) => (
            <option key={each.id} value={each.id}>
              {each.name}
            </option>
          ))}
      </select>
    </span>
  );
}

type ChoiceProps<K extends string> = { label: string; value: K; of: Record<K, string>; choose: (value: K) => void };

function Choice<K extends string>({ label, value, of, choose }: ChoiceProps<K>) {
  return (
    <label>
      {label}
      <select className="select" value={value} onChange={(event) => choose(event.target.value as K)}>
        {(Object.entries(of) as [K, string][]).map(([each, name]) => (
          <option key={each} value={each}>
            {name}
          </option>
        ))}
      </select>
    </label>
  );
}

export function Tick({ label, on, turn }: { label: string; on: boolean; turn: (on: boolean) => void }) {
  return (
    <label className="tick">
      <input type="checkbox" checked={on} onChange={(event) => turn(event.target.checked)} /> {label}
    </label>
  );
}
