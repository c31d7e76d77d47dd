// Goals, the evaluation of automatic players, and the results of two hundred quick games.

import { Dices, Square, Trash2 } from "lucide-react";
import { useState } from "react";
import type { Schemas } from "../../../state/client";
import { useGame } from "../../../state/store";
import { useGamesRequest } from "../../../state/useGamesRequest";
import { GamesProgress } from "../../../ui/GamesProgress";
import { Counting, Picking, Typing } from "../../../ui/Typing";
import * as requests from "../../api";
import type { Resource } from "../../useParts";
import { type EndDoc, type GoalDoc, type PlayDoc, replaced, without } from "../playDoc";
import type { EditPlay } from "../types";
import { ZoneCheckboxes } from "./ZoneCheckboxes";

type Props = { play: PlayDoc; lay: EditPlay; resources: Resource[]; game: string };

export function GoalsEditor({ play, lay, resources, game }: Props) {
  const put = (at: number, part: Partial<GoalDoc>) => lay({ goals: replaced(play.goals, at, part) });
  const first = resources.find((each) => !each.shared) ?? resources[0];
  return (
    <>
      <Ends play={play} lay={lay} resources={resources} />
      <h3>Goals that win or lose</h3>
      <ul className="goal-list">
        {play.goals.map((goal, at) => (
          <li key={`${at} ${goal.kind} ${goal.total}`} className="form form-row" aria-label={`Goal ${at + 1}`}>
            <Picking
              label="It ends when"
              value={goal.kind}
              options={[
                ["reach", "someone has: they win"],
                ["drop", "someone is down to: they are out"],
                ["most", "a round is over: the most wins"],
              ]}
              commit={(kind) => put(at, { kind: kind as GoalDoc["kind"] })}
            />
            <Counting
              label={goal.kind === "most" ? "Round" : "How many"}
              value={goal.number}
              commit={(number) => put(at, { number: number ?? goal.number })}
            />
            <Picking
              label="Of"
              value={goal.total}
              options={resources.map((each) => [each.id, each.names] as const)}
              commit={(total) => put(at, { total })}
            />
            <button
              type="button"
              className="icon-button"
              aria-label={`Remove goal ${at + 1}`}
              onClick={() => lay({ goals: without(play.goals, at) })}
            >
              <Trash2 size={14} aria-hidden="true" />
            </button>
          </li>
        ))}
      </ul>
      {first ? (
        <button
          type="button"
          className="button"
          onClick={() => lay({ goals: [...play.goals, { kind: "reach", total: first.id, number: 15 }] })}
        >
          Add a goal
        </button>
      ) : (
        <p className="soft">A goal is a total that somebody reaches: make a resource first, such as points.</p>
      )}
      {play.seats > 1 && (play.goals.length > 0 || (play.ends ?? []).length > 0) && (
        <div className="form form-row">
          <Picking
            label="If two would win at one moment"
            value={play.tie}
            options={[
              ["draw", "nobody has won"],
              ["active", "the one whose turn it is has"],
            ]}
            commit={(tie) => lay({ tie: tie as PlayDoc["tie"] })}
          />
        </div>
      )}
      <EndsCheck play={play} game={game} />
      <details className="goal-more">
        <summary>What automatic players value</summary>
        <p className="soft">Points for one of each; left empty, the goal and the clash say.</p>
        <Reckoned play={play} lay={lay} resources={resources} />
      </details>
    </>
  );
}

const WHENS = [
  ["round", "after that round"],
  ["one more round", "after one more round"],
  ["at once", "at once"],
] as const;

/** What ends a match, which is then scored. */
function Ends({ play, lay, resources }: { play: PlayDoc; lay: EditPlay; resources: Resource[] }) {
  const ends = play.ends ?? [];
  const put = (at: number, part: Partial<EndDoc>) => lay({ ends: replaced(ends, at, part) });
  const zones = play.zones.map((each) => [each.id, each.name] as const);
  const supplies = play.zones.filter((each) => each.kind === "supply").map((each) => [each.id, each.name] as const);
  const [total] = resources;
  const kinds = [
    ["rounds", "a number of rounds is over"],
    ...(zones.length ? ([["empty", "a zone is empty"]] as const) : []),
    ...(supplies.length ? ([["sold out", "kinds of a supply are gone"]] as const) : []),
    ...(total ? ([["reached", "someone has"]] as const) : []),
  ] as const;
  const fresh = (kind: EndDoc["kind"]): Partial<EndDoc> => ({
    kind,
    zones: kind === "empty" ? [zones[0]?.[0] ?? ""] : kind === "sold out" ? [supplies[0]?.[0] ?? ""] : [],
    total: kind === "reached" ? (total?.id ?? null) : null,
  });
  return (
    <>
      <h3>What ends the match</h3>
      <ul className="goal-list">
        {ends.map((end, at) => (
          <li key={at} className="form form-row" aria-label={`End ${at + 1}`}>
            <Picking
              label="It ends when"
              value={end.kind}
              options={kinds}
              commit={(kind) => put(at, fresh(kind as EndDoc["kind"]))}
            />
            {(end.kind === "empty" || end.kind === "sold out") && (
              <ZoneCheckboxes
                label={end.kind === "empty" ? "All of these" : "Of these"}
                zones={end.kind === "empty" ? zones : supplies}
                chosen={end.zones}
                put={(chosen) => put(at, { zones: chosen })}
              />
            )}
            {end.kind !== "empty" && (
              <Counting
                label={end.kind === "rounds" ? "Rounds" : end.kind === "sold out" ? "Kinds" : "How many"}
                value={end.number ?? 1}
                commit={(number) => put(at, { number: number || 1 })}
              />
            )}
            {end.kind === "reached" && (
              <Picking
                label="Of"
                value={end.total ?? ""}
                options={resources.map((each) => [each.id, each.names] as const)}
                commit={(ident) => put(at, { total: ident })}
              />
            )}
            {end.kind !== "rounds" && (
              <Picking
                label="Then it ends"
                value={end.when ?? "round"}
                options={WHENS}
                commit={(when) => put(at, { when: when as EndDoc["when"] })}
              />
            )}
            <button
              type="button"
              className="icon-button"
              aria-label={`Remove end ${at + 1}`}
              onClick={() => lay({ ends: without(ends, at) })}
            >
              <Trash2 size={14} aria-hidden="true" />
            </button>
          </li>
        ))}
      </ul>
      <button
        type="button"
        className="button"
        onClick={() => lay({ ends: [...ends, { kind: "rounds", zones: [], number: 10, total: null, when: "round" }] })}
      >
        Add what ends it
      </button>
    </>
  );
}

function Reckoned({ play, lay, resources }: { play: PlayDoc; lay: EditPlay; resources: Resource[] }) {
  const game = useGame((state) => state.game);
  const worth = play.evaluation;
  const row = (room: "resources" | "stats", id: string, name: string) => (
    <Typing
      key={id}
      label={name}
      number
      placeholder="by itself"
      value={worth[room][id] === undefined ? "" : String(worth[room][id])}
      commit={(text) => {
        const next = { ...worth[room] };
        if (!text.trim()) delete next[id];
        else if (/^\s*-?\d{1,3}\s*$/.test(text) && Math.abs(Number(text)) <= 100) next[id] = Number(text);
        else return false;
        return lay({ evaluation: { ...worth, [room]: next } });
      }}
    />
  );
  return (
    <div className="form form-row">
      {resources.map((each) => row("resources", each.id, each.names))}
      {(game?.roles.stats ?? []).map((stat) =>
        row("stats", stat, game?.fields.find((field) => field.id === stat)?.name ?? stat),
      )}
      <Counting
        label="A card in hand"
        value={worth.hand}
        commit={(hand) => lay({ evaluation: { ...worth, hand: hand ?? worth.hand } })}
      />
    </div>
  );
}

/** How two hundred quick games by these rules end. */
function EndsCheck({ play, game }: { play: PlayDoc; game: string }) {
  const [found, setFound] = useState<{ of: string; ends: Schemas["EndsOut"] } | null>(null);
  const { running, trouble, put, stop } = useGamesRequest("ends");
  const said = JSON.stringify(play);
  const look = () =>
    put(
      (signal) =>
        requests.howMatchesEnd({
          params: { path: { game_id: game } },
          body: { value: play as never, seed: (found?.ends.games ?? 0) + 1 },
          signal,
        }),
      (ends) => setFound({ of: said, ends }),
    );
  const ends = found?.ends;
  const share = (count: number) => `${Math.round((100 * count) / (ends?.games || 1))} %`;
  const rows = ends
    ? [
        ...ends.wins.map(
          (count, seat) => [`seat ${seat + 1} wins`, count, seat ? "ends-later" : "ends-first"] as const,
        ),
        ["a draw", ends.draws, "ends-draw"] as const,
        ["never ends", ends.cut, "ends-cut"] as const,
      ].filter(([, count]) => count > 0)
    : [];
  return (
    <section className="ends-check" aria-label="How could this end?">
      {running ? (
        <button type="button" className="button" onClick={stop}>
          <Square size={15} aria-hidden="true" /> Stop
        </button>
      ) : (
        <button type="button" className="button" onClick={() => void look()}>
          <Dices size={15} aria-hidden="true" /> How could this end?
        </button>
      )}
      {running ? (
        <>
          <GamesProgress running={running} />
          <span className="soft num">
            {running.of > 1 ? `${running.done} of ${running.of} games` : "Starting the games"}
          </span>
        </>
      ) : (
        <span className="soft">Two hundred quick games by an automatic player.</span>
      )}
      {trouble && (
        <p role="alert" className="needs">
          {trouble.detail}
          {trouble.mend && ` — ${trouble.mend}`}
        </p>
      )}
      {ends && (
        <div role="status" className={found.of === said ? "" : "ends-old"}>
          <div className="ends-bar" aria-hidden="true">
            {rows.map(([name, count, look]) => (
              <span key={name} className={look} style={{ flexGrow: count }} />
            ))}
          </div>
          <p>
            {rows.map(([name, count]) => `${name}: ${share(count)}`).join(" · ")}.{" "}
            {ends.cut < ends.games &&
              `Half of the games take ${ends.turns["25"]} to ${ends.turns["75"]} turns, the longest ${ends.turns["100"]}. `}
            <span className="soft">
              With {ends.decks}; {ends.seconds.toFixed(1)}&nbsp;s.
              {found.of === said ? "" : " The rules have changed since."}
            </span>
          </p>
        </div>
      )}
    </section>
  );
}
