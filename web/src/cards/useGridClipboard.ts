// The grid's clipboard: copy and cut a range, paste rows and pictures, create cards from rows pasted below the last one.
import { bringPicture, type CellEdit, writeCells } from "../state/cells";
import type { Game } from "../state/client";
import { editField } from "../state/edits";
import { newCardId, type OwnCard } from "../state/pending";
import { say, useGame } from "../state/store";
import { readClipboard, writeClipboard } from "../ui/clipboard";
import type { Range } from "../ui/selection";
import { applies, type Cell, type Column, cellText, editable } from "./columns";

type Props = {
  game: Game;
  rows: string[];
  columns: Column[];
  range: Range | null;
  at: Cell;
  setHead: (head: Cell | null) => void;
  /** The set of new cards; empty: that of the last one. */
  setId: string;
  made: (ids: string[]) => void;
  /** Whether a cell is being typed in: its own clipboard is meant then. */
  editing: boolean;
  clear: (within: Range) => void;
  idAt: (row: number) => string;
};

export function useGridClipboard({
  game,
  rows,
  columns,
  range,
  at,
  setHead,
  setId,
  made,
  editing,
  clear,
  idAt,
}: Props) {
  const cards = useGame((state) => state.cards);
  const standings = useGame((state) => state.standings);
  const notes = useGame((state) => state.notes);

  const copy = (event: React.ClipboardEvent, cut = false) => {
    if (editing || !range) return;
    const lines: string[][] = [];
    for (let row = range.top; row <= Math.min(range.bottom, rows.length - 1); row++) {
      const card = cards[rows[row] as string];
      const line = columns.slice(range.left, range.right + 1);
      if (card) lines.push(line.map((column) => shownText(game, card.id, column)));
    }
    if (!lines.length) return;
    writeClipboard(event.clipboardData, lines);
    event.preventDefault();
    if (cut) clear(range);
  };
  const shownText = (of: Game, id: string, column: Column): string => {
    const card = cards[id];
    if (!card) return "";
    if (column.kind === "notes") return (notes[id] ?? []).map((note) => note.text).join(" / ");
    if (column.kind === "paper") return standings[id]?.paper ?? "";
    if (column.kind === "verdict") return standings[id] ? String(standings[id]?.difference) : "";
    return cellText(of, card, column);
  };

  const paste = (event: React.ClipboardEvent) => {
    if (editing || !range) return;
    event.preventDefault();
    const image = [...event.clipboardData.files].find((file) => file.type.startsWith("image/"));
    const here = columns[range.left];
    if (image && here?.kind === "picture") {
      void putPicture(image, here.id);
      return;
    }
    void pasteRows(readClipboard(event.clipboardData), range);
  };

  const pasteRows = async (lines: string[][], within: Range) => {
    const wide = Math.max(0, ...lines.map((line) => line.length));
    if (!wide) return;
    const high = within.bottom - within.top + 1;
    const across = within.right - within.left + 1;
    // What is copied once fills a range that holds it several times over.
    const times = high % lines.length === 0 && across % wide === 0 && within.bottom < rows.length;
    const height = times ? high : lines.length;
    const width = times ? across : wide;
    const cells: CellEdit[] = [];
    const fresh: OwnCard[] = [];
    let beyond = 0;
    let fixed = 0;
    for (let down = 0; down < height; down++) {
      const row = within.top + down;
      const typed: Record<string, string> = {};
      for (let right = 0; right < width; right++) {
        const text = lines[down % lines.length]?.[right % wide] ?? "";
        const column = columns[within.left + right];
        if (!column) beyond += text ? 1 : 0;
        else if (!editable(column)) fixed += text ? 1 : 0;
        else if (row >= rows.length) {
          if (text) typed[column.id] = text;
        } else {
          const card = cards[rows[row] as string];
          if (!card || cellText(game, card, column) === text) continue;
          if (!applies(game, card, column) && !text) continue;
          cells.push({ card: card.id, field: column.id, typed: text });
        }
      }
      if (row >= rows.length && Object.keys(typed).length) fresh.push(newCard(typed));
    }
    const [only] = cells;
    const label = `paste of ${lines.length} × ${wide} cells`;
    const written: Promise<unknown> =
      cells.length === 1 && !fresh.length && only
        ? editField(only.card, only.field, only.typed)
        : writeCells(cells, fresh, label);
    if (fresh.length) made(fresh.map((each) => each.id));
    const last = idAt(Math.min(rows.length - 1, within.top + height - 1));
    const end = columns[Math.min(columns.length - 1, within.left + width - 1)];
    if (height * width > 1 && end) setHead({ card: last, column: end.id });
    // After the answer, which takes away what was said before.
    await written;
    if (beyond || fixed) {
      const parts = [
        beyond ? `${beyond} cells lie beyond the last column` : "",
        fixed ? `${fixed} cells fell on columns that are worked out and can't be typed` : "",
      ];
      say({
        type: "about:blank",
        title: "not all was pasted",
        status: 0,
        where: "Paste",
        detail: parts.filter(Boolean).join(" and "),
        mend: "what was copied is still on the clipboard: show more columns, or paste further left",
      });
    }
  };

  const putPicture = async (file: Blob, field: string) => {
    const sha = await bringPicture(file);
    if (sha) await editField(at.card, field, sha);
  };

  const newCard = (typed: Record<string, string>): OwnCard => {
    const model = cards[rows.at(-1) ?? ""];
    const { type, set, ...values } = typed;
    const same = (one: string, other: string | undefined) => one.toLowerCase() === other?.trim().toLowerCase();
    const kind = game.types.find((each) => same(each.name, type));
    const home = game.sets.find((each) => same(each.name, set));
    // Cards of one's own do not join the sample cards of a template.
    const last = game.sets.find((each) => each.id === model?.set && !each.samples);
    const own = last ?? game.sets.find((each) => !each.samples) ?? game.sets[0];
    return {
      id: newCardId(),
      type: kind?.id ?? model?.type ?? game.types[0]?.id ?? "",
      set: home?.id ?? (setId || own?.id || ""),
      // The name of a type or set that is not there is sent: it is refused with the reason, and stays where it was typed.
      typed: { ...values, ...(type && !kind && { type }), ...(set && !home && { set }) },
    };
  };

  return { copy, paste, putPicture, newCard };
}
