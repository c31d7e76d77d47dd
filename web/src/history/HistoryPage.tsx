// The game's journal with its marks, and the difference between two moments as a list and as faces.

import { Flag, Pencil, X } from "lucide-react";
import { useEffect, useState } from "react";
import { Link } from "react-router";
import { useAddress } from "../state/address";
import { type Mark, PAGE } from "../state/client";
import {
  addMark,
  type CardDifference,
  type Difference,
  type Entry,
  renameMark,
  takeMarkOut,
  useMarks,
} from "../state/history";
import { useAsked } from "../state/query";
import { useGame } from "../state/store";
import { dayOf, hourOf } from "../ui/when";
import * as requests from "./api";
import { CardRevisions } from "./components/CardRevisions";
import { FaceThen, FieldChanges } from "./components/Changes";

const PIECE = 100;
const KINDS = [
  ["", "everything"],
  ["card", "cards"],
  ["deck", "decks"],
  ["game", "rules"],
  ["set", "sets"],
  ["note", "notes"],
  ["picture", "pictures"],
] as const;

/** What is looked at: one edit, or the stretch between two moments (a mark's id, a number, or `now`). */
export function HistoryPage() {
  const game = useGame((state) => state.game);
  const seq = useGame((state) => state.seq);
  const marks = useMarks();
  const [params, setParams] = useAddress();
  const edit = params.get("edit");
  const from = params.get("from") ?? "";
  const to = params.get("to") ?? "now";
  const look = params.get("as") === "faces" ? "faces" : "list";
  const go = (next: Record<string, string | null>) =>
    setParams(
      (all) => {
        for (const [key, value] of Object.entries(next)) {
          if (value === null) all.delete(key);
          else all.set(key, value);
        }
        return all;
      },
      { replace: true },
    );
  if (!game) return null;
  return (
    <div className="history">
      <Journal
        marks={marks}
        chosen={edit ? Number(edit) : null}
        choose={(one) => go({ edit: String(one), from: null })}
      />
      <section className="history-look" aria-label="What changed">
        <form className="history-between" onSubmit={(event) => event.preventDefault()}>
          <span>What changed from</span>
          <Moment
            label="From"
            value={edit ? "" : from}
            marks={marks}
            start
            choose={(value) => go({ from: value || null, edit: null })}
          />
          <span>to</span>
          <Moment
            label="To"
            value={edit ? "now" : to}
            marks={marks}
            choose={(value) => go({ to: value, edit: null })}
          />
          <fieldset className="look" aria-label="Shown as">
            {(["list", "faces"] as const).map((each) => (
              <button key={each} type="button" aria-pressed={look === each} onClick={() => go({ as: each })}>
                {each === "list" ? "List" : "Faces"}
              </button>
            ))}
          </fieldset>
        </form>
        {edit ? (
          <Stretch key={`edit ${edit}`} edit={Number(edit)} look={look} marks={marks} seq={seq} />
        ) : from ? (
          <Stretch from={from} to={to} look={look} marks={marks} seq={seq} />
        ) : (
          <Latest marks={marks} look={look} seq={seq} go={go} />
        )}
      </section>
    </div>
  );
}

type LatestProps = {
  marks: Mark[];
  look: "list" | "faces";
  seq: number;
  go: (next: Record<string, string | null>) => void;
};

/** Nothing is chosen yet: the latest edit shows what it changed, and how to look further back is said above it. */
function Latest({ marks, look, seq, go }: LatestProps) {
  const [first] = marks;
  return (
    <>
      <div className="history-hint">
        <p className="soft">
          The latest edit. Choose another in the journal, or two moments above; the flag beside an edit marks the moment
          after it.
        </p>
        {first && (
          <button type="button" className="small-button" onClick={() => go({ from: first.id, to: "now" })}>
            What changed since “{first.name}”
          </button>
        )}
      </div>
      {seq > 0 && <Stretch key={`latest ${seq}`} edit={seq} look={look} marks={marks} seq={seq} />}
    </>
  );
}

type MomentProps = { label: string; value: string; marks: Mark[]; start?: boolean; choose: (value: string) => void };

function Moment({ label, value, marks, start, choose }: MomentProps) {
  return (
    <select className="select" aria-label={label} value={value} onChange={(event) => choose(event.target.value)}>
      {start ? <option value="">choose a mark…</option> : <option value="now">now</option>}
      {marks.map((mark) => (
        <option key={mark.id} value={mark.id}>
          {mark.name}
        </option>
      ))}
      {start && <option value="0">the very beginning</option>}
      {/^\d+$/.test(value) && value !== "0" && <option value={value}>edit {value}</option>}
    </select>
  );
}

type JournalProps = { marks: Mark[]; chosen: number | null; choose: (seq: number) => void };

function Journal({ marks, chosen, choose }: JournalProps) {
  const game = useGame((state) => state.game);
  const seq = useGame((state) => state.seq);
  const [text, setText] = useState("");
  const [kind, setKind] = useState("");
  const [most, setMost] = useState(PIECE);
  const [marking, setMarking] = useState<number | null>(null);
  const asking = () =>
    requests.journal({
      params: { path: { game_id: game?.id ?? "" }, query: { text, kind, most: Math.min(500, most) } },
    });
  const { found } = useAsked<Entry[]>(asking, [game?.id, text, kind, most, seq]);
  const entries = found ?? [];
  const newest = entries[0]?.seq ?? 0;
  return (
    <section className="journal" aria-label="Journal">
      <header className="journal-head">
        <input
          className="input"
          type="search"
          placeholder="Filter: a card, a deck, a word"
          aria-label="Filter the journal"
          value={text}
          onChange={(event) => setText(event.target.value)}
        />
        <select
          className="select"
          aria-label="Kind of edit"
          value={kind}
          onChange={(event) => setKind(event.target.value)}
        >
          {KINDS.map(([value, name]) => (
            <option key={value} value={value}>
              {name}
            </option>
          ))}
        </select>
      </header>
      <NewMark />
      <ol className="journal-list">
        {marks
          .filter((mark) => mark.seq > newest && !text && !kind)
          .map((mark) => (
            <MarkLine key={mark.id} mark={mark} />
          ))}
        {entries.map((entry, index) => {
          const day = dayOf(entry.at);
          const fresh = index === 0 || dayOf(entries[index - 1]?.at ?? "") !== day;
          const here = marks.filter((mark) => mark.seq === entry.seq);
          return (
            <li key={entry.seq}>
              {fresh && <h3 className="journal-day">{day}</h3>}
              {here.map((mark) => (
                <MarkLine key={mark.id} mark={mark} />
              ))}
              <div className="journal-row">
                <button
                  type="button"
                  className="journal-step"
                  aria-pressed={chosen === entry.seq}
                  onClick={() => choose(entry.seq)}
                >
                  <time className="num soft">{hourOf(entry.at)}</time>
                  <span className={entry.inverse_of ? "journal-undo" : ""}>{entry.label}</span>
                  {entry.said && <span className="journal-said">{entry.said}</span>}
                  <small className="soft">{who(entry, entries[index - 1])}</small>
                </button>
                <button
                  type="button"
                  className="icon-button journal-flag"
                  title="Mark the moment after this edit"
                  aria-label={`Mark the moment after: ${entry.label}`}
                  onClick={() => setMarking(marking === entry.seq ? null : entry.seq)}
                >
                  <Flag size={13} aria-hidden="true" />
                </button>
              </div>
              {marking === entry.seq && <NewMark seq={entry.seq} done={() => setMarking(null)} />}
            </li>
          );
        })}
        {found && entries.length === 0 && <li className="soft journal-none">No edits match.</li>}
        {entries.length >= most && most < 500 && (
          <li>
            <button type="button" className="small-button" onClick={() => setMost(Math.min(500, most + 200))}>
              Show earlier edits
            </button>
          </li>
        )}
      </ol>
    </section>
  );
}

/** Who made an edit, where the newer one above it is of somebody else; and of how much, where the label does not say it. */
function who(entry: Entry, above: Entry | undefined): string {
  const by =
    entry.page === PAGE || entry.page === above?.page
      ? ""
      : entry.page === "command line"
        ? "command line"
        : entry.page === "demo"
          ? "the demo"
          : entry.page === "dramok"
            ? "Dramok"
            : "another window";
  const one = entry.said && entry.counts.length === 1 && entry.counts[0]?.count === 1;
  const what = one ? "" : entry.counts.map(({ what, count }) => `${count} ${what}${count === 1 ? "" : "s"}`).join(", ");
  return [by, what].filter(Boolean).join(" · ");
}

function NewMark({ seq, done }: { seq?: number; done?: () => void }) {
  const [name, setName] = useState("");
  const asked = useAddress()[0].get("mark") === "new";
  const add = async () => {
    if (name.trim() && (await addMark(name, seq))) {
      setName((now) => (now === name ? "" : now));
      done?.();
    }
  };
  return (
    <form
      className="new-mark"
      onSubmit={(event) => {
        event.preventDefault();
        void add();
      }}
    >
      <Flag size={13} aria-hidden="true" />
      <input
        className="input"
        // biome-ignore lint/a11y/noAutofocus: it was just asked for
        autoFocus={seq !== undefined || asked}
        placeholder={seq === undefined ? "Mark this moment: before playtest 3" : "Name of the mark"}
        aria-label={seq === undefined ? "Name of a mark for now" : "Name of the mark"}
        value={name}
        onChange={(event) => setName(event.target.value)}
      />
      <button type="submit" className="small-button" disabled={!name.trim()}>
        Mark
      </button>
    </form>
  );
}

function MarkLine({ mark }: { mark: Mark }) {
  const [name, setName] = useState<string | null>(null);
  return (
    <div className="mark-line">
      <Flag size={13} aria-hidden="true" />
      {name === null ? (
        <b>{mark.name}</b>
      ) : (
        <input
          className="input"
          // biome-ignore lint/a11y/noAutofocus: it was just asked for
          autoFocus
          aria-label="Name of the mark"
          value={name}
          onChange={(event) => setName(event.target.value)}
          onKeyDown={(event) => {
            if (event.key === "Enter") event.currentTarget.blur();
            if (event.key === "Escape") setName(null);
          }}
          onBlur={() => {
            if (name.trim() && name !== mark.name) void renameMark(mark.id, name);
            setName(null);
          }}
        />
      )}
      <button
        type="button"
        className="icon-button"
        aria-label={`Rename mark ${mark.name}`}
        onClick={() => setName(mark.name)}
      >
        <Pencil size={12} aria-hidden="true" />
      </button>
      <button
        type="button"
        className="icon-button"
        aria-label={`Remove mark ${mark.name}`}
        onClick={() => void takeMarkOut(mark.id)}
      >
        <X size={13} aria-hidden="true" />
      </button>
    </div>
  );
}

type StretchProps = {
  edit?: number;
  from?: string;
  to?: string;
  look: "list" | "faces";
  marks: Mark[];
  seq: number;
};

function Stretch({ edit, from = "", to = "now", look, marks, seq }: StretchProps) {
  const game = useGame((state) => state.game?.id ?? "");
  const asking = () =>
    edit !== undefined
      ? requests.journalEntry({ params: { path: { game_id: game, seq: edit } } })
      : requests.changes({
          params: { path: { game_id: game }, query: { after: from, until: to === "now" ? undefined : to } },
        });
  const { found, trouble } = useAsked<Difference>(asking, [game, edit, from, to, to === "now" ? seq : 0]);
  const [past, setPast] = useState<CardDifference | null>(null);
  const mark = marks.find((each) => each.id === from);
  if (trouble)
    return (
      <p role="alert" className="trouble">
        {trouble.detail}; {trouble.mend}
      </p>
    );
  if (!found) return <p className="soft history-wait">Comparing…</p>;
  const nothing = found.cards.length === 0 && found.others.length === 0;
  return (
    <>
      <div className="history-sum">
        {nothing ? (
          <b>Nothing is different.</b>
        ) : (
          <>
            <Tally count={found.changed} word="changed" />
            <Tally count={found.added} word="added" />
            <Tally count={found.gone} word="gone" />
            {found.others.map((each) => (
              <span key={each} className="history-other">
                {each}
              </span>
            ))}
          </>
        )}
        {mark && to === "now" && found.changed + found.added > 0 && (
          <Link className="link" to={`/${game}/cards?q=${encodeURIComponent(`changed since "${mark.name}"`)}`}>
            Show these cards in the grid
          </Link>
        )}
      </div>
      {look === "list" ? (
        <ListOf found={found} open={setPast} />
      ) : (
        <FacesOf found={found} open={setPast} now={to === "now" && edit === undefined ? seq : found.until} />
      )}
      {past && <CardRevisions card={past.card} title={past.title} close={() => setPast(null)} />}
    </>
  );
}

function Tally({ count, word }: { count: number; word: string }) {
  if (!count) return null;
  return (
    <span className={`tally-${word}`}>
      <b className="num">{count}</b> {count === 1 ? "card" : "cards"} {word}
    </span>
  );
}

type OfProps = { found: Difference; open: (card: CardDifference) => void };

function ListOf({ found, open }: OfProps) {
  const [most, setMost] = useState(PIECE);
  return (
    <div className="history-scroll">
      {found.cards.slice(0, most).map((each) => (
        <article key={each.card} className="history-card">
          <h3>
            <button type="button" className="link" onClick={() => open(each)}>
              {each.title}
            </button>
            <span className="soft num">{each.code}</span>
            {each.kind !== "changed" && <span className={`tally-${each.kind}`}>{each.kind}</span>}
          </h3>
          {each.changes.length > 0 && <FieldChanges changes={each.changes} />}
        </article>
      ))}
      <More shown={Math.min(most, found.cards.length)} of={found.cards.length} more={() => setMost(most + PIECE)} />
    </div>
  );
}

function FacesOf({ found, open, now }: OfProps & { now: number }) {
  const [most, setMost] = useState(24);
  useEffect(() => setMost(24), []);
  return (
    <div className="history-scroll mat history-faces">
      {found.cards.slice(0, most).map((each) => (
        <article key={each.card} className="history-pair">
          <div className="history-two">
            {each.kind !== "added" && <FaceThen card={each.card} seq={found.after} label="before" />}
            {each.kind !== "gone" && (
              <FaceThen
                card={each.card}
                seq={now}
                label={each.kind === "added" ? "added" : "after"}
                changed={each.kind === "changed" ? each.changes.map((change) => change.field) : []}
              />
            )}
          </div>
          <button type="button" className="link on-mat" onClick={() => open(each)}>
            {each.title}
          </button>
          <span className="on-mat-soft">
            {each.kind === "changed" ? each.changes.map((change) => change.name).join(", ") : each.kind}
          </span>
        </article>
      ))}
      <More shown={Math.min(most, found.cards.length)} of={found.cards.length} more={() => setMost(most + 24)} />
    </div>
  );
}

function More({ shown, of, more }: { shown: number; of: number; more: () => void }) {
  if (shown >= of) return null;
  return (
    <button type="button" className="button" onClick={more}>
      Show more: {shown} of {of} so far
    </button>
  );
}
