// The game's phrase book, with sample cards before and after.

import { useState } from "react";
import { Link } from "react-router";
import type { Schemas } from "../../state/client";
import { useAsked, useTouched } from "../../state/query";
import { useGame } from "../../state/store";
import { CellSheet, type Put, type SheetColumn, type SheetRow, type Stand } from "../../ui/CellSheet";
import { Hover } from "../../ui/Hover";
import { Ticking, Typing } from "../../ui/Typing";
import * as requests from "../api";
import type { PhraseDoc, Write } from "../useParts";
import { TextDiffLine } from "./TextDiffLine";
import "../phrases.css";
import { counted } from "../../ui/plural";

type Phrase = Schemas["PhraseOut"];
type Props = { words: PhraseDoc; book: Phrase[]; symbols: string[]; write: Write };

const COLUMNS: SheetColumn[] = [
  { id: "about", name: "For", width: 168 },
  { id: "words", name: "Words", width: 384 },
  { id: "uses", name: "Cards", width: 54, number: true, help: "The number of cards that say it" },
];
const FIRST = "verbs/draw";
const ROOMS = [
  ["Moments", ["cues"]],
  ["Effects", ["verbs", "damage"]],
  ["Targets", ["picks", "sides", "filters"]],
  ["Cards", ["nouns", "plurals"]],
] as const;

export function PhrasesEditor({ words, book, symbols, write }: Props) {
  const game = useGame((state) => state.game?.id ?? "");
  const [drafted, setDrafted] = useState<PhraseDoc | null>(null);
  const [stand, setStand] = useState<Stand | null>(null);
  const touched = useTouched("game", "card");
  const shown = drafted ?? words;
  // At first a phrase that says much: what is beside it shows what it is for.
  const at = book.find((each) => each.id === (stand?.row ?? FIRST)) ?? null;
  const { found: look, trouble } = useAsked(
    game
      ? () =>
          requests.lookAtThePhrases({
            params: { path: { game_id: game } },
            body: { value: shown as never, phrase: at?.id ?? null },
          })
      : null,
    [game, shown, at?.id, touched],
  );
  const put = (next: PhraseDoc) => {
    setDrafted(null);
    void write("phrases", next);
  };
  const withPuts = (puts: Put[]): PhraseDoc =>
    puts.reduce((now, { row, text }) => {
      const phrase = book.find((each) => each.id === row);
      return phrase ? written(now, phrase, text) : now;
    }, words);
  const rows = (rooms: readonly string[]): SheetRow[] =>
    book
      .filter((phrase) => rooms.includes(phrase.room))
      .map((phrase) => ({
        id: phrase.id,
        name: phrase.about,
        cells: {
          about: { text: phrase.about, locked: true },
          words: {
            text: own(words, phrase),
            hint: phrase.plain || "says nothing",
            wrong: Boolean(look?.lacking[phrase.id]),
          },
          uses: { text: look ? String(look.uses[phrase.id] ?? 0) : "", locked: true },
        },
      }));
  return (
    <div className="phrases">
      <div className="phrases-sheets">
        <p className="soft phrases-about">
          Effects print in these words. What is not written here is said plainly. In braces stand the parts that are
          filled in; a symbol stands as{" "}
          {symbols.length
            ? symbols
                .slice(0, 3)
                .map((each) => `{${each}}`)
                .join(" ")
            : "{its name}"}
          .
        </p>
        {ROOMS.map(([title, rooms]) => (
          <section key={title}>
            <h3>{title}</h3>
            <CellSheet
              label={`Phrases: ${title.toLowerCase()}`}
              rows={rows(rooms)}
              columns={COLUMNS}
              stand={
                at && (rooms as readonly string[]).includes(at.room) ? (stand ?? { row: at.id, column: "words" }) : null
              }
              setStand={setStand}
              put={(puts) => {
                put(withPuts(puts));
                return undefined;
              }}
              draft={(one) => setDrafted(one && withPuts([one]))}
            />
          </section>
        ))}
        <section>
          <h3>The language</h3>
          <div className="form form-row">
            <Typing
              label="Numbers as words, with commas between"
              value={words.numbers.join(", ")}
              placeholder="one, two, three"
              className="phrases-numbers"
              commit={(text) =>
                put({
                  ...words,
                  numbers: text
                    .split(",")
                    .map((each) => each.trim())
                    .filter(Boolean),
                })
              }
            />
            <Ticking
              label="as in English: a or an before a name, which stands in small letters"
              value={words.english}
              commit={(english) => put({ ...words, english })}
            />
          </div>
        </section>
      </div>
      <aside className="phrases-side" aria-label="Cards that say it">
        <h3>{at ? `“${at.about}”` : "Samples"}</h3>
        {!at && (
          <p className="soft">Select a phrase to see the cards that say it, as they read now and as they would.</p>
        )}
        {at && at.parts.length > 0 && (
          <p className="soft">
            It may hold {at.parts.map((part) => `{${part}}`).join(", ")}
            {look?.lacking[at.id] ? (
              <span className="needs">
                {" "}
                — it says nothing of {look.lacking[at.id]?.map((part) => `{${part}}`).join(", ")}
              </span>
            ) : null}
          </p>
        )}
        <p className="phrases-count" role="status">
          {trouble ? (
            <span className="needs">
              {trouble.detail} — {trouble.mend}
            </span>
          ) : drafted && look ? (
            <b className={look.reworded ? "needs" : ""}>
              {look.reworded === 0
                ? "No card would read otherwise"
                : look.reworded === 1
                  ? "1 card would read otherwise; Enter takes it"
                  : `${counted(look.reworded, "card")} would read otherwise; Enter takes it`}
            </b>
          ) : at && look && !look.samples.length ? (
            <span className="soft">No card says it yet.</span>
          ) : null}
        </p>
        <ul className="phrases-samples">
          {look?.samples.map((sample) => (
            <Sample key={sample.card} sample={sample} game={game} />
          ))}
        </ul>
      </aside>
    </div>
  );
}

function Sample({ sample, game }: { sample: Schemas["SampleOut"]; game: string }) {
  const title = useGame((state) => state.cards[sample.card]?.title ?? sample.card);
  const same = sample.before.join("\n") === sample.after.join("\n");
  return (
    <li>
      <Hover card={sample.card}>
        <Link to={`/${game}/cards?card=${sample.card}`}>{title}</Link>
      </Hover>
      <TextDiffLine lines={sample.before} gone={!same} />
      {!same && <TextDiffLine lines={sample.after} />}
    </li>
  );
}

/** The game's own words for a phrase; nothing where it has none. */
function own(words: PhraseDoc, phrase: Phrase): string {
  if (phrase.room === "damage") return words.damage === phrase.plain ? "" : words.damage;
  return (words[phrase.room as "cues"][phrase.key] ?? "").trim();
}

/** The book with words for a phrase; without any the plain ones stand again. */
function written(words: PhraseDoc, phrase: Phrase, text: string): PhraseDoc {
  if (phrase.room === "damage") return { ...words, damage: text.trim() || phrase.plain };
  const room = phrase.room as "cues";
  const held = { ...words[room] };
  if (text.trim()) held[phrase.key] = text.trim();
  else delete held[phrase.key];
  return { ...words, [room]: held };
}
