// The game's keywords: set in bold wherever they stand in a text, and what each means.
import { Download, Plus, Trash2 } from "lucide-react";
import { useState } from "react";
import { change, signed } from "../state/cells";
import { api, ask } from "../state/client";
import { useGame } from "../state/game";
import { Typing } from "../ui/Typing";
import type { Rules } from "./useRules";

type Keyword = { name: string; reminder: string };

export function KeywordsEditor({ rules }: { rules: Rules }) {
  const seq = useGame((state) => state.seq);
  const game = useGame((state) => state.game?.id ?? "");
  const [fresh, setFresh] = useState("");
  const held: Keyword[] = rules.keywords.map((each) => ({ name: each.name, reminder: each.reminder ?? "" }));
  const write = (keywords: Keyword[]) =>
    change((game, key) =>
      ask(api.PUT("/api/games/{game_id}/rules/keywords", { params: signed(game, key), body: { keywords, base: seq } })),
    );
  const put = (at: number, part: Partial<Keyword>) =>
    void write(held.map((each, place) => (place === at ? { ...each, ...part } : each)));
  const add = () => {
    const name = fresh.trim();
    if (!name) return;
    void write([...held, { name, reminder: "" }]).then((done) => done && setFresh(""));
  };
  return (
    <div className="rules-editor">
      <div className="rules-main">
        <h1 className="rules-title">Keywords</h1>
        <p className="soft">
          A keyword is set in bold wherever it stands in a card's text. What it means is printed where a face plan shows
          reminders.
        </p>
        {held.length > 0 && (
          <p className="glossary-links">
            For the rulebook:
            {(["pdf", "md"] as const).map((form) => (
              <a key={form} className="small-button" href={`/api/games/${game}/output/glossary.${form}`} download>
                <Download size={13} aria-hidden="true" /> {form === "pdf" ? "Glossary as PDF" : "as Markdown"}
              </a>
            ))}
          </p>
        )}
        {held.length === 0 && <p className="rules-inherited">No keyword yet. Name one below.</p>}
        <ul className="keywords">
          {held.map((each, at) => (
            <li key={each.name} className="keyword">
              <Typing label={`Keyword ${at + 1}`} hidden value={each.name} commit={(name) => put(at, { name })} />
              <Typing
                label={`${each.name}: reminder`}
                hidden
                value={each.reminder}
                placeholder="What it means, in a sentence"
                commit={(reminder) => put(at, { reminder })}
              />
              <button
                type="button"
                className="icon-button"
                aria-label={`Take ${each.name} out`}
                title="Take it out"
                onClick={() => void write(held.filter((_, place) => place !== at))}
              >
                <Trash2 size={15} aria-hidden="true" />
              </button>
            </li>
          ))}
        </ul>
        <form
          className="rules-add keyword-add"
          onSubmit={(event) => {
            event.preventDefault();
            add();
          }}
        >
          <input
            className="input"
            aria-label="New keyword"
            placeholder="New keyword"
            value={fresh}
            onChange={(event) => setFresh(event.target.value)}
          />
          <button type="submit" className="icon-button" aria-label="Add the keyword" disabled={!fresh.trim()}>
            <Plus size={16} aria-hidden="true" />
          </button>
        </form>
      </div>
    </div>
  );
}
