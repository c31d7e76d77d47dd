// The rules text; clicking a part opens its editor.
import { Download } from "lucide-react";
import { useEffect, useRef } from "react";
import { useGame } from "../../../state/store";
import { Face } from "../../../ui/Face";
import { type PlayPart, partOf } from "../playDoc";
import type { PlayPreview } from "../types";

type Props = { look: PlayPreview | null; part: PlayPart; go: (part: PlayPart) => void; game: string };

export function RulesText({ look, part, go, game }: Props) {
  const cards = useGame((state) => state.cards);
  const pane = useRef<HTMLElement>(null);
  const shown = look?.parts.find((each) => partOf(each.part) === part)?.part;
  useEffect(() => {
    const found = pane.current?.querySelector<HTMLElement>(`[data-part="${shown}"]`);
    if (found && pane.current) pane.current.scrollTop = found.offsetTop - pane.current.offsetTop - 44;
  }, [shown]);
  return (
    <aside className="rules-read" aria-label="Rules text" ref={pane} data-pane>
      <header>
        <h3>Rules text</h3>
        {(["pdf", "md"] as const).map((form) => (
          <a key={form} className="small-button" href={`/api/games/${game}/output/rules.${form}`} download>
            <Download size={12} aria-hidden="true" /> {form === "pdf" ? "PDF" : "Markdown"}
          </a>
        ))}
      </header>
      {look?.problem && (
        <p role="alert" className="needs">
          {look.problem.what} — {look.problem.mend}. Below are the rules as they stand.
        </p>
      )}
      {(look?.parts ?? []).map((each) => (
        <section key={each.part} data-part={each.part} className={partOf(each.part) === part ? "rules-read-on" : ""}>
          <h4>
            {each.part === "words" ? (
              each.title
            ) : (
              <button type="button" onClick={() => go(partOf(each.part))}>
                {each.title}
              </button>
            )}
          </h4>
          {each.lines.map((line) => (
            <p key={line}>{line}</p>
          ))}
          {each.cards.length > 0 && (
            <div className="rules-read-cards" aria-hidden="true">
              {each.cards.map((id) => (
                <span key={id}>
                  <Face card={id} title={cards[id]?.title ?? ""} />
                </span>
              ))}
            </div>
          )}
        </section>
      ))}
    </aside>
  );
}
