import { useEffect, useRef } from "react";
import { Link } from "react-router";
import type { Game } from "../state/client";
import { Hover } from "../ui/Hover";
import type { Playtest } from "./PlaytestPage";

/** The game so far in words; a card that is named can be looked at and opened. */
export function LogPane({ table, game }: { table: Playtest; game: Game }) {
  const end = useRef<HTMLDivElement>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: each new line scrolls into sight
  useEffect(() => {
    end.current?.scrollIntoView({ block: "nearest" });
  }, [table.log.length]);
  return (
    <aside className="log" data-pane aria-label="Log">
      <h2>
        Log <span className="soft num">{table.log.length}</span>
      </h2>
      <div className="log-scroll" role="log" aria-live="polite" tabIndex={0} aria-label="Log of the game">
        {table.log.map((line, number) => {
          const title = line.card ? (table.titles[line.card] ?? "") : "";
          const place = title ? line.text.indexOf(title) : -1;
          return (
            <p
              key={number}
              className={`${line.inner ? "log-inner" : "log-outer"} ${number && table.log[number - 1]?.decision !== line.decision ? "log-step" : ""}`}
            >
              {line.card && place >= 0 ? (
                <>
                  {line.text.slice(0, place)}
                  <Hover card={line.card}>
                    <Link to={`/${game.id}/cards?card=${line.card}`}>{title}</Link>
                  </Hover>
                  {line.text.slice(place + title.length)}
                </>
              ) : (
                line.text
              )}
            </p>
          );
        })}
        <div ref={end} />
      </div>
    </aside>
  );
}
