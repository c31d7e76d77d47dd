// Shows the last played card for a moment.
import { useEffect, useRef, useState } from "react";
import { Face } from "../../ui/Face";
import { useLively } from "../motion";
import type { Playtest } from "../types";

/** So many are shown at once: the latest. */
const MOST = 3;

type Shown = { card: string; seat: number; line: number };

export function LastPlayed({ table }: { table: Playtest }) {
  const stay = useLively((state) => state.stay);
  const last = useRef({ id: table.id, lines: table.log.length });
  const [shown, setShown] = useState<Shown[]>([]);
  useEffect(() => {
    const before = last.current;
    last.current = { id: table.id, lines: table.log.length };
    if (before.id !== table.id || table.log.length <= before.lines) return setShown([]);
    const found = table.log
      .map((line, place) => ({ ...line, line: place }))
      .slice(before.lines)
      .filter((line) => line.happening === "played" && line.card);
    setShown(found.slice(-MOST).map((line) => ({ card: line.card ?? "", seat: line.seat, line: line.line })));
  }, [table]);
  useEffect(() => {
    if (!shown.length || stay < 0) return;
    const timer = setTimeout(() => setShown([]), stay * 1000);
    return () => clearTimeout(timer);
  }, [shown, stay]);
  if (!shown.length || stay === 0) return null;
  return (
    <ul className="just-played" aria-hidden="true">
      {shown.map((each) => (
        <li key={each.line}>
          <Face card={each.card} title={table.titles[each.card] ?? ""} />
          <span>{whoPlays(table, each.seat)}</span>
        </li>
      ))}
    </ul>
  );
}

function whoPlays(table: Playtest, seat: number): string {
  if (!table.players.includes("person")) return `seat ${seat + 1} plays`;
  if (seat === table.seat) return "you play";
  return table.players.length > 2 ? `seat ${seat + 1} plays` : "your rival plays";
}
