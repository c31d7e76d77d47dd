// The open deck: name, deck rules, problems with fixes, curve, list.
import { Dices, MoreHorizontal, Play, Plus, Trash2 } from "lucide-react";
import { useState } from "react";
import { Link } from "react-router";
import { useGo } from "../../state/address";
import type { Deck } from "../../state/client";
import { chooseRules, doubleDeck, fillDeck, noteDeck, renameDeck, setCounts, takeDeckOut } from "../../state/deckEdits";
import { useGame } from "../../state/store";
import { Menu } from "../../ui/Menu";
import { Picking, Typing } from "../../ui/Typing";
import { DeckRows } from "./DeckRows";
import { DeckShape } from "./DeckShape";
import { ListDialog } from "./ListDialog";
import { QuickAdd } from "./QuickAdd";

const SEEDS = 1_000_000;
const aSeed = () => Math.floor(Math.random() * SEEDS);

type Props = { deck: Deck | undefined; choose: (id: string) => void; make: (seed?: number | null) => Promise<void> };

export function DeckPanel({ deck, choose, make }: Props) {
  const game = useGame((state) => state.game);
  const decks = useGame((state) => state.decks);
  const go = useGo();
  const [listing, setListing] = useState<"in" | "out" | null>(null);
  if (!game) return null;
  const rules = game.formats.find((each) => each.id === deck?.format) ?? game.formats[0];
  return (
    <>
      <div className="deck-choice">
        <label className="unseen" htmlFor="deck-choice">
          Deck
        </label>
        <select
          id="deck-choice"
          className="select"
          value={deck?.id ?? ""}
          onChange={(event) => choose(event.target.value)}
        >
          {decks.map((each) => (
            <option key={each.id} value={each.id}>
              {each.name} — {each.legal ? "legal" : "not legal"}
            </option>
          ))}
        </select>
        <button type="button" className="button" onClick={() => void make()}>
          <Plus size={15} aria-hidden="true" /> New
        </button>
        <Menu
          align="end"
          leavesFocus
          trigger={{
            className: "icon-button",
            label: "More to do with decks",
            children: <MoreHorizontal size={16} aria-hidden="true" />,
          }}
          items={[
            { id: "paste", shown: "Paste or open a decklist …", act: () => setListing("in") },
            { id: "random", shown: "New random legal deck", act: () => void make(aSeed()) },
            ...(deck
              ? [
                  { id: "line", line: true as const },
                  { id: "copy", shown: "Copy or save this list …", act: () => setListing("out") },
                  {
                    id: "fill",
                    shown: "Fill it up at random",
                    act: () => void fillDeck(deck.id, aSeed()),
                  },
                  {
                    id: "double",
                    shown: "Duplicate this deck",
                    act: () => void doubleDeck(deck.id).then((edit) => edit?.made[0] && choose(edit.made[0])),
                  },
                  {
                    id: "print",
                    shown: "Print this deck",
                    act: () => go(`/${game.id}/output?deck=${deck.id}`),
                  },
                  {
                    id: "rules",
                    shown: "Edit the deck rules",
                    act: () => go(`/${game.id}/rules?at=game:formats`),
                  },
                ]
              : []),
          ]}
        />
      </div>
      {deck && rules ? (
        <>
          <div className="deck-name">
            <Typing
              key={deck.id}
              label="Name of the deck"
              hidden
              value={deck.name}
              commit={(name) => (name.trim() ? renameDeck(deck.id, name) : false)}
            />
            {game.formats.length > 1 && (
              <Picking
                label="Deck rules"
                hidden
                value={deck.format}
                options={game.formats.map((each) => [each.id, each.name] as const)}
                commit={(id) => void chooseRules(deck.id, id === game.formats[0]?.id ? "" : id)}
              />
            )}
            <Link className="button button-main" to={`/${game.id}/playtest?deck=${deck.id}`}>
              <Play size={14} aria-hidden="true" /> Play
            </Link>
            <button
              type="button"
              className="icon-button"
              aria-label="Remove this deck"
              title="Remove this deck; undo brings it back"
              onClick={() => void takeDeckOut(deck.id)}
            >
              <Trash2 size={15} aria-hidden="true" />
            </button>
          </div>
          <Legality deck={deck} />
          <DeckShape deck={deck} game={game} />
          <QuickAdd deck={deck} rules={rules} />
          <DeckRows deck={deck} rules={rules} />
          <details className="deck-note">
            <summary>{deck.note ? deck.note.split("\n")[0] : "Note on this deck"}</summary>
            <NoteText key={deck.id} text={deck.note} put={(text) => noteDeck(deck.id, text)} />
          </details>
        </>
      ) : (
        <div className="empty deck-none">
          <p>No deck yet.</p>
          <button type="button" className="button button-main" onClick={() => void make()}>
            <Plus size={15} aria-hidden="true" /> Empty deck
          </button>
          <button type="button" className="button" onClick={() => void make(aSeed())}>
            <Dices size={15} aria-hidden="true" /> Random legal deck
          </button>
          <button type="button" className="button" onClick={() => setListing("in")}>
            Paste a decklist
          </button>
        </div>
      )}
      {listing && <ListDialog way={listing} deck={deck} choose={choose} close={() => setListing(null)} />}
    </>
  );
}

/** Whether the deck is legal, its problems, and one-click fixes. */
function Legality({ deck }: { deck: Deck }) {
  const game = useGame((state) => state.game);
  const rules = game?.formats.find((each) => each.id === deck.format) ?? game?.formats[0];
  if (!rules) return null;
  const wanted =
    rules.least_cards === rules.most_cards ? `${rules.least_cards}` : `${rules.least_cards}–${rules.most_cards}`;
  return (
    <div className={`legality ${deck.legal ? "legality-holds" : "legality-needs"}`} role="status" aria-live="polite">
      <b>
        {deck.size} / {wanted}
      </b>
      {deck.legal ? (
        <span>legal in {rules.name}</span>
      ) : (
        <ul>
          {deck.problems.map((problem) => (
            <li key={problem.where + problem.what}>
              {problem.what} —{" "}
              {problem.fixes.length ? (
                <button
                  type="button"
                  className="mend-button"
                  onClick={() => void setCounts(deck.id, problem.fixes, problem.mend.slice(0, 120))}
                >
                  {problem.mend}
                </button>
              ) : (
                problem.mend
              )}
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}

/** The user's note: saved on blur. */
function NoteText({ text, put }: { text: string; put: (text: string) => unknown }) {
  const [typed, setTyped] = useState<string | null>(null);
  return (
    <textarea
      className="input"
      rows={4}
      aria-label="Note on this deck"
      value={typed ?? text}
      onChange={(event) => setTyped(event.target.value)}
      onBlur={async () => {
        if (typed !== null && typed !== text) await put(typed);
        setTyped(null);
      }}
    />
  );
}
