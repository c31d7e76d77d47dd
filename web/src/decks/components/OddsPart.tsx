// The odds of a deck: groups, conditions, exact curves by turn, and the effect of one more copy.

import { Plus, X } from "lucide-react";
import { useEffect, useMemo, useRef } from "react";
import type { Deck, Schemas } from "../../state/client";
import { useAsked } from "../../state/query";
import { useKept } from "../../state/roomAddresses";
import { useGame } from "../../state/store";
import { counted } from "../../ui/plural";
import { Counting, Picking, Ticking, Typing } from "../../ui/Typing";
import * as requests from "../api";
import type { Redraw } from "../types";
import { inOrder } from "./DeckRows";
import { LARGEST, OddsChart, percent } from "./OddsChart";

type Asked = Schemas["OddsIn"];
type Group = Asked["groups"][number];

type How = NonNullable<Group["how"]>;

const HOWS: readonly (readonly [How, string])[] = [
  ["at least", "at least"],
  ["exactly", "exactly"],
  ["at most", "at most"],
];
export const NOTHING: Asked = {
  groups: [],
  join: "all",
  turns: 10,
  hand: null,
  each: null,
  first_draw: null,
  extra: {},
  redraw: null,
  reshuffle: false,
  by: 4,
  wanted: 0.8,
  source: null,
  gives: 1,
  second: false,
};

/** What is asked of the odds, kept for each game while the page is open; the first question is of the deck's commonest card. */
export function useOdds(deck: Deck | undefined): [Asked, (next: Partial<Asked>) => void] {
  const [kept, setKept] = useKept<Asked>("decks/odds", NOTHING);
  const first = useMemo(
    () => Object.entries(deck?.cards ?? {}).sort((one, other) => other[1] - one[1] || (one[0] < other[0] ? -1 : 1))[0],
    [deck],
  );
  const asked = kept.groups.length || !first ? kept : { ...kept, groups: [{ ...GROUP, card: first[0] }] };
  return [asked, (next) => setKept({ ...asked, ...next })];
}

/** The question without one of its groups: rules that spoke of it go with it, those of others stay with them. */
export function withoutGroup(asked: Asked, at: number): Partial<Asked> {
  const moved = (group: number) => (group > at ? group - 1 : group);
  const redraw = asked.redraw ?? null;
  const keep = redraw?.keep ?? [];
  const gone = redraw && (redraw.kind === "chosen" ? redraw.kept === at : keep.some((each) => each.group === at));
  const source = asked.source ?? null;
  return {
    groups: asked.groups.filter((_, place) => place !== at),
    redraw:
      !redraw || gone
        ? null
        : {
            ...redraw,
            kept: redraw.kind === "chosen" ? moved(redraw.kept ?? 0) : 0,
            keep: redraw.kind === "whole" ? keep.map((each) => ({ ...each, group: moved(each.group) })) : [],
          },
    source: source === null || source === at ? null : moved(source),
  };
}

const GROUP: Group = { query: "", card: "", how: "at least", count: 1, name: "" };

/** `wanted` is a card that one came for. */
export function OddsPart({ deck, asked: wanted }: { deck: Deck | undefined; asked: string | null }) {
  const game = useGame((state) => state.game);
  const cards = useGame((state) => state.cards);
  const seq = useGame((state) => state.seq);
  const [asked, put] = useOdds(deck);
  const come = useRef<string | null>(null);
  useEffect(() => {
    if (!wanted || come.current === wanted || !deck?.cards[wanted]) return;
    come.current = wanted;
    const { groups } = asked;
    // It stands with the others, or in the place of the last; it stays when one goes to another deck.
    const there = groups.some((each) => each.card === wanted);
    put({ groups: there ? groups : [...groups.slice(0, LARGEST - 1), { ...GROUP, card: wanted }] });
  }, [wanted, deck, asked, put]);
  const ready = game && deck && deck.size > 0 && asked.groups.length > 0;
  const { found, trouble } = useAsked(
    ready
      ? () =>
          requests.deckOdds({
            params: { path: { game_id: game.id, deck_id: deck.id } },
            body: asked,
          })
      : null,
    [game?.id, deck?.id, asked, seq],
  );
  if (!game) return null;
  if (!deck || deck.size === 0)
    return (
      <div className="empty">
        <p>{deck ? `${deck.name} has no cards yet.` : "No deck yet."} Odds are asked of the cards of a deck.</p>
      </div>
    );
  const groups = asked.groups;
  const set = (at: number, part: Partial<Group>) =>
    put({ groups: groups.map((each, place) => (place === at ? { ...each, ...part } : each)) });
  const held = inOrder(Object.keys(deck.cards), cards, game);
  const names = groups.map((each, place) => found?.groups[place]?.name ?? each.query);
  /** The cards of the deck; one that is asked for and is in another deck stands there, too. */
  const options = (own: string | undefined): [string, string][] => [
    ...(own && cards[own] && !held.includes(own) ? [own, ...held] : held).map((id): [string, string] => [
      id,
      `${cards[id]?.title ?? id} (${deck.cards[id] ?? 0})`,
    ]),
    ["", "cards that match …"],
  ];
  const named = (each: Group) => (each.card && cards[each.card] ? each.card : "");
  const lines = (found?.groups ?? []).map((each, place) => ({ name: each.name, curve: each.curve, place }));
  const together =
    found?.together && groups.length > 1
      ? [{ name: asked.join === "any" ? "any of these" : "all of these", curve: found.together, place: LARGEST }]
      : [];
  /** The first hand is that of turn 1 where each turn draws a new one. */
  const from = asked.reshuffle ? 1 : 0;
  const by = Math.max(from, Math.min(asked.by ?? 4, asked.turns ?? 10));
  const turns = (found?.seen ?? []).map((_, turn) => turn).slice(from);
  const cells = (curve: number[]) =>
    turns.map((turn) => (
      <td key={turn} className={`num ${turn === by ? "odds-by" : ""}`}>
        {percent(curve[turn] ?? 0)}
      </td>
    ));
  return (
    <div className="odds">
      <div className="odds-groups">
        {groups.map((each, at) => (
          <fieldset key={at} className="odds-group" aria-label={`Group ${at + 1}`}>
            <span className={`odds-key odds-line-${at}`} aria-hidden="true" />
            <Picking
              label="How many"
              hidden
              value={each.how ?? "at least"}
              options={HOWS}
              commit={(how) => set(at, { how: how as How })}
            />
            <Counting
              label={`Cards of group ${at + 1}`}
              hidden
              value={each.count ?? 1}
              commit={(count) => set(at, { count: count ?? 1 })}
            />
            <span>of</span>
            <Picking
              label="Cards"
              hidden
              value={named(each)}
              options={options(each.card)}
              commit={(card) => set(at, { card, query: "" })}
            />
            {!named(each) && (
              <Typing
                label="Query of the group"
                hidden
                value={each.query ?? ""}
                placeholder="a query, such as cost under 3"
                commit={(query) => set(at, { query, card: "" })}
              />
            )}
            <span className="soft odds-copies">
              {found?.groups[at] ? `${found.groups[at].copies} in the deck` : ""}
            </span>
            {groups.length > 1 && (
              <button
                type="button"
                className="icon-button"
                aria-label={`Remove group ${at + 1}`}
                onClick={() => put(withoutGroup(asked, at))}
              >
                <X size={14} aria-hidden="true" />
              </button>
            )}
          </fieldset>
        ))}
        <div className="odds-under">
          {groups.length < LARGEST && (
            <button type="button" className="small-button" onClick={() => put({ groups: [...groups, GROUP] })}>
              <Plus size={13} aria-hidden="true" /> Another group
            </button>
          )}
          {groups.length > 1 && (
            <Picking
              label="Together"
              value={asked.join ?? "all"}
              options={[
                ["all", "all of them"],
                ["any", "any of them"],
              ]}
              commit={(join) => put({ join: join as "all" | "any" })}
            />
          )}
        </div>
      </div>
      <DrawRules
        asked={asked}
        put={put}
        names={names}
        hand={found?.hand}
        each={found?.each}
        firstDraw={found?.first_draw}
      />
      {trouble && (
        <p className="needs odds-trouble" role="alert">
          {trouble.where}: {trouble.detail} — {trouble.mend}
        </p>
      )}
      {found && (
        <>
          <div className="odds-said" aria-live="polite">
            {found.groups.map((each) => (
              <p key={each.name + each.said}>{each.said}</p>
            ))}
            {found.together_said && groups.length > 1 && <p className="odds-both">{found.together_said}</p>}
            {found.keeps !== null && (
              <p className="soft">An opening hand is kept in {percent(found.keeps)} of games.</p>
            )}
          </div>
          <OddsChart
            lines={[...lines, ...together]}
            from={from}
            last={found.seen.length - 1}
            by={by}
            choose={(turn) => put({ by: turn })}
          />
          <div className="odds-scroll">
            <table className="odds-table">
              <caption className="unseen">The chance by turn</caption>
              <thead>
                <tr>
                  <th scope="col">{asked.reshuffle ? "in a hand by turn" : "by turn"}</th>
                  {turns.map((turn) => (
                    <th key={turn} scope="col" className={turn === by ? "odds-by" : ""}>
                      <button
                        type="button"
                        title={asked.reshuffle ? undefined : `${counted(found.seen[turn] ?? 0, "card")} seen`}
                        onClick={() => put({ by: turn })}
                      >
                        {turn === 0 ? "hand" : turn}
                      </button>
                    </th>
                  ))}
                </tr>
              </thead>
              <tbody>
                {[...lines, ...together].map((line) => (
                  <tr key={`${line.place} ${line.name}`}>
                    <th scope="row">
                      <span className={`odds-key odds-line-${line.place}`} aria-hidden="true" /> {line.name}
                    </th>
                    {cells(line.curve)}
                  </tr>
                ))}
                {found.groups.map((each, at) =>
                  each.pays ? (
                    <tr key={`${at} pays`} className="soft">
                      <th scope="row">{each.name}, and paid for</th>
                      {cells(each.pays)}
                    </tr>
                  ) : each.cycles.length ? (
                    <tr key={`${at} alone`} className="soft">
                      <th scope="row">{each.name}, in the hand of this turn</th>
                      {cells([0, ...each.cycles.map((turn) => turn.hand)])}
                    </tr>
                  ) : null,
                )}
                {asked.reshuffle && (
                  <tr className="soft">
                    <th scope="row">time through the deck</th>
                    {found.groups[0]?.cycles.map((turn) => (
                      <td key={turn.turn} className={`num ${turn.turn === by ? "odds-by" : ""}`}>
                        {turn.cycle}
                      </td>
                    ))}
                  </tr>
                )}
              </tbody>
            </table>
          </div>
          {!asked.reshuffle && (
            <ul className="odds-copies-needed">
              {found.groups.map((each, at) => (
                <li key={`${at} ${each.name}`}>
                  {!each.counted
                    ? `How many of ${each.name} are needed takes too long to count here.`
                    : each.needed === null || each.needed === undefined
                      ? `No number of ${each.name} gives ${percent(asked.wanted ?? 0.8)} by turn ${by}.`
                      : `${percent(asked.wanted ?? 0.8)} by turn ${by} needs ${each.needed} of ${each.name}; there are ${each.copies}.`}
                  {each.more !== null && each.more !== undefined && (
                    <span className="soft"> One more: {signed(each.more)}.</span>
                  )}
                </li>
              ))}
            </ul>
          )}
        </>
      )}
    </div>
  );
}

const signed = (more: number) => `${more < 0 ? "−" : "+"}${(100 * Math.abs(more)).toFixed(1)} percentage points`;

type RuleProps = {
  asked: Asked;
  put: (next: Partial<Asked>) => void;
  names: (string | undefined)[];
  hand: number | undefined;
  each: number | undefined;
  firstDraw: boolean | undefined;
};

/** How cards are drawn, and what may be given back. */
function DrawRules({ asked, put, names, hand, each, firstDraw }: RuleProps) {
  const redraw = asked.redraw ?? null;
  const keep = redraw?.keep?.[0] ?? { group: 0, how: "at least" as How, count: 1 };
  const groups = asked.groups.map((_, at): [string, string] => [String(at), names[at] || `group ${at + 1}`]);
  const setRedraw = (part: Partial<Redraw>) =>
    put({ redraw: { kind: "whole", returned: "before", keep: [keep], join: "all", kept: 0, ...redraw, ...part } });
  return (
    <div className="odds-rules">
      <Counting
        label="Hand"
        none={hand === undefined ? "" : String(hand)}
        value={asked.hand ?? null}
        commit={(count) => put({ hand: count })}
      />
      {!asked.reshuffle && (
        <>
          <Counting
            label="Draws per turn"
            none={each === undefined ? "" : String(each)}
            value={asked.each ?? null}
            commit={(count) => put({ each: count })}
          />
          <Picking
            label="First turn"
            value={
              asked.first_draw === null || asked.first_draw === undefined ? "" : asked.first_draw ? "draws" : "none"
            }
            options={[
              [
                "",
                firstDraw === undefined ? "as in the rules" : `as in the rules: ${firstDraw ? "draws" : "draws none"}`,
              ],
              ["none", "draws none"],
              ["draws", "draws"],
            ]}
            commit={(way) => put({ first_draw: way === "" ? null : way === "draws" })}
          />
          <Picking
            label="Seat"
            value={asked.second ? "second" : "first"}
            options={[
              ["first", "goes first"],
              ["second", "goes second"],
            ]}
            commit={(way) => put({ second: way === "second" })}
          />
        </>
      )}
      <Typing
        label="Extra cards"
        value={Object.entries(asked.extra ?? {})
          .map(([turn, count]) => `turn ${turn}: ${count}`)
          .join(", ")}
        placeholder="turn 2: 1"
        commit={(text) => {
          const extra = readExtra(text);
          return extra ? put({ extra }) : false;
        }}
      />
      <Counting
        label="Turns"
        value={asked.turns ?? 10}
        commit={(turns) => put({ turns: Math.max(1, Math.min(30, turns ?? 10)) })}
      />
      <Counting
        label="Wanted, %"
        value={Math.round(100 * (asked.wanted ?? 0.8))}
        commit={(count) => put({ wanted: Math.min(100, count ?? 80) / 100 })}
      />
      {!asked.reshuffle && (
        <Picking
          label="Redraw"
          value={redraw ? `${redraw.kind} ${redraw.returned}` : ""}
          options={[
            ["", "none"],
            ["whole before", "whole hand once, shuffled in first"],
            ["whole after", "whole hand once, shuffled in afterwards"],
            ["chosen before", "chosen cards once, shuffled in first"],
            ["chosen after", "chosen cards once, shuffled in afterwards"],
          ]}
          commit={(way) => {
            const [kind, returned] = way.split(" ");
            if (!kind) put({ redraw: null });
            else setRedraw({ kind: kind as Redraw["kind"], returned: returned as Redraw["returned"] });
          }}
        />
      )}
      {redraw?.kind === "whole" && (
        <span className="odds-keep">
          <Picking
            label="Kept with"
            value={keep.how ?? "at least"}
            options={HOWS}
            commit={(how) => setRedraw({ keep: [{ ...keep, how: how as How }] })}
          />
          <Counting
            label="Keep with at least"
            hidden
            value={keep.count ?? 1}
            commit={(count) => setRedraw({ keep: [{ ...keep, count: count ?? 1 }] })}
          />
          <Picking
            label="Of"
            value={String(keep.group)}
            options={groups}
            commit={(group) => setRedraw({ keep: [{ ...keep, group: Number(group) }] })}
          />
        </span>
      )}
      {redraw?.kind === "chosen" && (
        <Picking
          label="Kept cards"
          value={String(redraw.kept ?? 0)}
          options={groups}
          commit={(kept) => setRedraw({ kept: Number(kept) })}
        />
      )}
      {groups.length > 1 && !asked.reshuffle && (
        <Picking
          label="Cards that help pay"
          value={asked.source === null || asked.source === undefined ? "" : String(asked.source)}
          options={[["", "no cards"], ...groups]}
          commit={(source) => put({ source: source === "" ? null : Number(source) })}
        />
      )}
      <Ticking
        label="A new hand each turn, played cards shuffled in again"
        value={asked.reshuffle ?? false}
        commit={(reshuffle) => put({ reshuffle, redraw: null })}
      />
      {asked.source !== null && asked.source !== undefined && groups.length > 1 && !asked.reshuffle && (
        <Counting
          label="Each gives"
          value={asked.gives ?? 1}
          commit={(count) => put({ gives: Math.max(1, Math.min(100, count ?? 1)) })}
        />
      )}
    </div>
  );
}

/** `turn 2: 1, 4: 2` as counts by turn; null for what is something else. */
function readExtra(text: string): Record<string, number> | null {
  const extra: Record<string, number> = {};
  for (const part of text.split(",").filter((each) => each.trim())) {
    const [, turn, count] = /^\s*(?:turn\s*)?(\d{1,2})\s*[:=]\s*(\d{1,2})\s*$/i.exec(part) ?? [];
    if (!turn || !count || Number(turn) < 1 || Number(turn) > 30) return null;
    extra[turn] = Number(count);
  }
  return extra;
}
