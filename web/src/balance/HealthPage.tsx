// The health of a set on one page, as it can be printed.

import { Printer } from "lucide-react";
import { type ReactNode, useRef, useState } from "react";
import { Link } from "react-router";
import { choicesOf } from "../state/choices";
import { useMarks } from "../state/history";
import { useAsked } from "../state/query";
import { useGame } from "../state/store";
import { Hover } from "../ui/Hover";
import { points } from "../ui/Verdict";
import * as requests from "./api";
import { ChartExport } from "./components/ChartExport";
import { CurveChart } from "./components/CurveChart";
import type { HealthData } from "./types";
import "./health.css";
import { counted } from "../ui/plural";

const SHOWN = 12;

export function HealthPage() {
  const game = useGame((state) => state.game);
  const seq = useGame((state) => state.seq);
  const marks = useMarks();
  const [set, setSet] = useState("");
  const [since, setSince] = useState("");
  const query = { ...(set ? { set } : {}), ...(since ? { since } : {}) };
  const { found, trouble } = useAsked(
    game ? () => requests.setHealth({ params: { path: { game_id: game.id }, query } }) : null,
    [game?.id, seq, set, since],
  );
  if (!game) return null;
  const name = game.sets.find((each) => each.id === set)?.name ?? game.name;
  return (
    <div className="health">
      <div className="measure-line health-line">
        {game.sets.length > 1 && (
          <label>
            <span aria-hidden="true">Set </span>
            <select className="select" aria-label="Set" value={set} onChange={(event) => setSet(event.target.value)}>
              <option value="">all cards</option>
              {game.sets.map((each) => (
                <option key={each.id} value={each.id}>
                  {each.name}
                </option>
              ))}
            </select>
          </label>
        )}
        {marks.length > 0 && (
          <label>
            <span aria-hidden="true">Changed since </span>
            <select
              className="select"
              aria-label="Changed since"
              value={since}
              onChange={(event) => setSince(event.target.value)}
            >
              <option value="">choose a mark</option>
              {marks.map((each) => (
                <option key={each.id} value={each.id}>
                  {each.name}
                </option>
              ))}
            </select>
          </label>
        )}
        <button type="button" className="button" onClick={() => window.print()}>
          <Printer size={15} aria-hidden="true" /> Print this page
        </button>
      </div>
      {trouble && (
        <p className="lens-told" role="alert">
          <b className="needs">{trouble.detail}</b> — {trouble.mend}.
        </p>
      )}
      {found ? (
        <div className="health-scroll" tabIndex={0} role="region" aria-label="Health of the set">
          <Sheet found={found} name={name} />
        </div>
      ) : (
        !trouble && <div className="loading">Looking the set over…</div>
      )}
    </div>
  );
}

function Sheet({ found, name }: { found: HealthData; name: string }) {
  const game = useGame((state) => state.game);
  const cards = useGame((state) => state.cards);
  const curve = useRef<HTMLDivElement>(null);
  if (!game) return null;
  const title = (id: string) => cards[id]?.title ?? id;
  const card = (id: string) => (
    <Hover card={id}>
      <Link to={`/${game.id}/balance?view=lenses&card=${id}`}>{title(id)}</Link>
    </Hover>
  );
  const choice = (kind: "faction" | "rarity", id: string) =>
    choicesOf(game, game.roles[kind])?.values.find((each) => each.id === id)?.name ?? (id || "none");
  const type = (id: string) => game.types.find((each) => each.id === id)?.name ?? id;
  const outliers = [...found.outliers].sort((one, other) => Math.abs(other.count) - Math.abs(one.count));
  return (
    <article className="health-sheet">
      <header className="health-head">
        <h2>{name}</h2>
        <p>
          <b className="num">{found.cards}</b> {found.cards === 1 ? "card" : "cards"}:{" "}
          {["fair", "over", "under", "open"]
            .filter((word) => found.verdicts[word])
            .map((word, at) => (
              <span key={word}>
                {at > 0 && ", "}
                <span className={`verdict verdict-${word}`}>
                  {found.verdicts[word]} {word}
                </span>
              </span>
            ))}
          .{found.changed && ` ${found.changed.length} changed since the mark.`}
        </p>
      </header>
      <Part
        name="Curve"
        wide
        out={<ChartExport name={`${name} curve`} drawing={curve} rows={() => curveRows(found)} />}
      >
        {found.curve.length ? (
          <div ref={curve}>
            <CurveChart curve={found.curve} />
          </div>
        ) : (
          <p className="soft">The game has no costs: there is no curve.</p>
        )}
      </Part>
      <Part name="Outliers" count={outliers.length} good="Every priced card is within its budget.">
        <Few of={outliers}>
          {(each) => (
            <li key={each.what}>
              {card(each.what)}{" "}
              <span className={`verdict verdict-${each.count > 0 ? "over" : "under"}`}>{points(each.count)}</span>
            </li>
          )}
        </Few>
      </Part>
      <Part name="Dominated" count={found.dominated_count} good="No card does everything better than another.">
        <Few of={found.dominated} whole={found.dominated_count}>
          {(each) => (
            <li key={each.card}>
              {card(each.card)} <span className="soft">by</span> {card(each.better[0] ?? "")}
              <span className="soft">: {each.reason}</span>
            </li>
          )}
        </Few>
      </Part>
      <Part name="Near twins" count={found.twin_count} good="No two cards are nearly the same.">
        <Few of={found.twins} whole={found.twin_count}>
          {(each) => (
            <li key={`${each.one} ${each.other}`}>
              {card(each.one)} <span className="soft">and</span> {card(each.other)}
              <span className="soft">: {each.differs || "the same in everything"}</span>
            </li>
          )}
        </Few>
      </Part>
      <Part
        name="Gaps"
        count={found.gap_count}
        good="Every cost between the lowest and the highest has a card of each rarity."
      >
        <Few of={gathered(found, type, choice)}>{(each) => <li key={each}>{each}</li>}</Few>
      </Part>
      <Part name="Keywords" count={found.keywords.length} good="The game has no keywords.">
        <Few of={found.keywords} whole={found.keywords.length}>
          {(each) => (
            <li key={each.what}>
              {each.what}: <span className={each.count ? "num" : "num needs"}>{counted(each.count, "card")}</span>
            </li>
          )}
        </Few>
      </Part>
      <Part name="To read">
        <p>
          {found.load.cards ? (
            <>
              <b className="num">{found.load.mean.toFixed(1)}</b> words on a card with text, median {found.load.median},
              the longest <b className="num">{found.load.most}</b>: {card(found.load.longest[0]?.what ?? "")}.
            </>
          ) : (
            "No card has text."
          )}
        </p>
        {found.lone_count > 0 && (
          <p>
            {counted(found.lone_count, "word is", "words are")} used on one card only:{" "}
            {found.lone.slice(0, SHOWN).map((each, at) => (
              <span key={each.word}>
                {at > 0 && ", "}
                <Hover card={each.card}>
                  <Link to={`/${game.id}/cards?card=${each.card}`}>{each.word}</Link>
                </Hover>
              </span>
            ))}
            {found.lone_count > SHOWN && ` and ${found.lone_count - SHOWN} more`}.
          </p>
        )}
      </Part>
      <Part name="Shares">
        <Shares of={found.types} name={type} />
        {game.roles.faction && <Shares of={found.factions} name={(id) => choice("faction", id)} />}
        {game.roles.rarity && <Shares of={found.rarities} name={(id) => choice("rarity", id)} />}
      </Part>
      <Part name="Unfinished" count={found.unfinished.length} good="Everything is written, and fits.">
        <Few of={found.unfinished}>{(id) => <li key={id}>{card(id)}</li>}</Few>
      </Part>
      <Part name="Out-of-date prints" count={found.stale.length} good="What was printed is as the cards are now.">
        <Few of={found.stale}>{(id) => <li key={id}>{card(id)}</li>}</Few>
      </Part>
      {found.changed && (
        <Part name="Changed since" count={found.changed.length} good="No card changed.">
          <Few of={found.changed}>{(id) => <li key={id}>{card(id)}</li>}</Few>
        </Part>
      )}
      {(found.unseen > 0 || found.left_out > 0) && (
        <p className="soft health-foot">
          {found.left_out > 0 &&
            `${counted(found.left_out, "card")} could not be compared: text without effect lines, or no cost. `}
          {found.unseen > 0 &&
            `Of so large a set ${found.unseen} faces were not checked for unfinished or out-of-date cards.`}
        </p>
      )}
    </article>
  );
}

type PartProps = { name: string; count?: number; good?: string; wide?: boolean; out?: ReactNode; children: ReactNode };

function Part({ name, count, good, wide, out, children }: PartProps) {
  return (
    <section className={`health-part ${wide ? "health-wide" : ""}`} aria-label={name}>
      <h3>
        {name}
        {count ? <span className="num health-count">{count}</span> : null}
        {out}
      </h3>
      {count === 0 ? <p className="holds">{good}</p> : children}
    </section>
  );
}

/** The first items of a list; the rest on request, and always on paper. */
function Few<T>({ of, whole, children }: { of: T[]; whole?: number; children: (each: T) => ReactNode }) {
  const [all, setAll] = useState(false);
  const count = whole ?? of.length;
  return (
    <>
      <ul className="health-list">{of.slice(0, all ? of.length : SHOWN).map(children)}</ul>
      {of.length > SHOWN && (
        <button type="button" className="small-button" onClick={() => setAll(!all)}>
          {all ? "Fewer" : of.length < count ? `${of.length} of ${count}` : `All ${count}`}
        </button>
      )}
    </>
  );
}

function Shares({ of, name }: { of: HealthData["types"]; name: (id: string) => string }) {
  const whole = of.reduce((sum, each) => sum + each.count, 0);
  return (
    <ul className="health-shares">
      {of.map((each) => (
        <li key={each.what}>
          <span>{name(each.what)}</span>
          <span className="health-bar" style={{ width: `${(100 * each.count) / Math.max(1, whole)}%` }} />
          <span className="num">{each.count}</span>
        </li>
      ))}
    </ul>
  );
}

/** Gaps of one type and faction on one line, by their rarity. */
function gathered(
  found: HealthData,
  type: (id: string) => string,
  choice: (kind: "faction" | "rarity", id: string) => string,
): string[] {
  const lines = new Map<string, number[]>();
  for (const gap of found.gaps) {
    const said = [
      type(gap.type),
      ...(gap.faction ? [choice("faction", gap.faction)] : []),
      ...(gap.rarity ? [choice("rarity", gap.rarity)] : []),
    ].join(", ");
    lines.set(said, [...(lines.get(said) ?? []), gap.cost]);
  }
  return [...lines].map(([said, costs]) => `${said}: none at ${costs.join(", ")}`);
}

const curveRows = (found: HealthData) => [
  ["cost", "cards", "wanted", "mean of stats"],
  ...found.curve.map((each) => [each.cost, each.cards, each.wanted, each.stats]),
];
