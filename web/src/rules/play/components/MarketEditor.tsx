// Markets: what is for sale, how it lies there, what it costs; the deck with which everyone begins; counters on cards.
import { Trash2 } from "lucide-react";
import { useGame } from "../../../state/store";
import { NewNameInput } from "../../../ui/NewNameInput";
import { Counting, Picking, Typing } from "../../../ui/Typing";
import { freeId } from "../../ids";
import type { Resource } from "../../useParts";
import {
  type CounterDoc,
  freeName,
  type GroupDoc,
  type MarketDoc,
  type PlayDoc,
  replaced,
  without,
  type ZoneDoc,
} from "../playDoc";
import type { EditPlay, PlayPreview } from "../types";
import { AmountInput } from "./AmountInput";
import { CardsOf } from "./CardsOf";
import { ZoneCheckboxes } from "./ZoneCheckboxes";

type Props = { play: PlayDoc; lay: EditPlay; resources: Resource[]; look: PlayPreview | null };

export function MarketEditor({ play, lay, resources, look }: Props) {
  const markets = play.markets ?? [];
  const paid = resources.find((each) => !each.shared) ?? resources[0];
  const game = useGame((state) => state.game);
  // Only cards with a price are sold.
  const priced = game?.types.filter((each) => each.fields.includes(game.roles.cost ?? "")) ?? [];
  const stock: GroupDoc =
    priced.length && priced.length < (game?.types.length ?? 0) ? { type: priced[0]?.id ?? null } : {};
  const add = (kind: "row" | "supply") => {
    if (!paid) return;
    const name = freeName(kind === "row" ? "Market row" : "Market", play.zones);
    const id = freeId(name, play.zones);
    const zones: ZoneDoc[] = [...play.zones];
    const base = { shared: true, limit: null, shuffled: false } as const;
    let stocked = id;
    if (kind === "row") {
      const stock = freeName(`${name} stock`, zones);
      stocked = freeId(stock, zones);
      zones.push({ ...base, id: stocked, name: stock, seen: "none", shuffled: true });
      zones.push({ ...base, id, name, seen: "all", kind: "row", places: 5, source: stocked });
    } else zones.push({ ...base, id, name, seen: "all", kind: "supply" });
    const market: MarketDoc = {
      zone: id,
      pays: paid.id,
      price: null,
      by_place: [],
      passing: null,
      goes_to: "discard",
      most: null,
    };
    const buys = play.phases.some((phase) => phase.does.some((each) => `${each.may ?? ""}`.includes("buy")));
    // Buying is allowed where cards are played, unless a phase says so already.
    const phases = buys
      ? play.phases
      : play.phases.map((phase) => ({
          ...phase,
          does: phase.does.map((each) =>
            each.do === "play" ? { ...each, may: [...((each.may as string[]) ?? ["play", "use"]), "buy"] } : each,
          ),
        }));
    lay({
      zones,
      phases,
      markets: [...markets, market],
      set_up: { ...play.set_up, placed: [...play.set_up.placed, { zone: stocked, cards: {}, group: stock }] },
    });
  };
  return (
    <>
      <ul className="market-list">
        {markets.map((market, at) => (
          <MarketRow
            key={market.zone}
            market={market}
            play={play}
            lay={lay}
            resources={resources}
            look={look}
            less={look?.markets[at] ?? null}
            put={(part) => lay({ markets: replaced(markets, at, part) })}
            remove={() => lay({ markets: without(markets, at) })}
          />
        ))}
      </ul>
      {markets.length === 0 && (
        <p className="soft">Nothing is for sale. A market sells the cards of a zone in the middle of the table.</p>
      )}
      {paid ? (
        <div className="form-row">
          <button type="button" className="button" onClick={() => add("row")}>
            Add a row that is refilled
          </button>
          <button type="button" className="button" onClick={() => add("supply")}>
            Add a supply of all kinds
          </button>
        </div>
      ) : (
        <p className="soft">Cards are paid for with a resource: make one first, such as coins.</p>
      )}
      <h3>The deck with which everyone begins</h3>
      <CardsOf
        label="Starting deck"
        none="Each player brings a deck of their own"
        group={play.set_up.start_group ?? null}
        cards={play.set_up.start ?? {}}
        put={(start_group, start) => lay({ set_up: { ...play.set_up, start, start_group } })}
      />
      <h3>Counters on cards</h3>
      <Counters play={play} lay={lay} />
    </>
  );
}

type RowProps = Props & {
  market: MarketDoc;
  less: { text: string; words: string } | null;
  put: (part: Partial<MarketDoc>) => void;
  remove: () => void;
};

function MarketRow({ market, play, lay, resources, less, put, remove }: RowProps) {
  const fields = useGame((state) => state.game?.fields) ?? [];
  const zone = play.zones.find((each) => each.id === market.zone);
  if (!zone) return null;
  const kind = zone.kind ?? "pile";
  const change = (part: Partial<ZoneDoc>) => lay({ zones: replaced(play.zones, play.zones.indexOf(zone), part) });
  const shared = play.zones.filter((each) => each.shared);
  const piles = shared.filter((each) => (each.kind ?? "pile") === "pile" && each.id !== zone.id);
  const stocked = kind === "row" && zone.source ? zone.source : zone.id;
  const placed = play.set_up.placed.find((each) => each.zone === stocked);
  const stock = (group: GroupDoc | null, cards: Record<string, number>) => {
    const rest = play.set_up.placed.filter((each) => each.zone !== stocked);
    const kept = group || Object.keys(cards).length ? [...rest, { zone: stocked, cards, group }] : rest;
    lay({ set_up: { ...play.set_up, placed: kept } });
  };
  const priced = fields.filter((each) => each.kind === "number");
  return (
    <li className="market-item" aria-label={`Market: ${zone.name}`}>
      <div className="form form-row">
        <Typing
          label="Name"
          value={zone.name}
          commit={(name) => (name.trim() ? change({ name: name.trim() }) : false)}
        />
        <Picking
          label="Laid out as"
          value={kind}
          options={[
            ["row", "a row of places"],
            ["supply", "a supply, equal cards together"],
            ["pile", "a pile: its top card"],
          ]}
          commit={(next) =>
            change({
              kind: next as "pile",
              places: next === "row" ? (zone.places ?? 5) : null,
              source: next === "row" ? (zone.source ?? null) : null,
              ...(next === "supply" ? { shuffled: false, limit: null } : {}),
            })
          }
        />
        {kind === "row" && (
          <>
            <Counting label="Places" value={zone.places ?? 1} commit={(places) => change({ places: places || 1 })} />
            <Picking
              label="Refilled from"
              value={zone.source ?? ""}
              options={[["", "nothing"], ...piles.map((each) => [each.id, each.name] as const)]}
              commit={(source) => change({ source: source || null })}
            />
            {zone.source && (
              <Picking
                label="When"
                value={zone.refill ?? "at once"}
                options={[
                  ["at once", "as soon as a place is free"],
                  ["phase", "when a phase refills the rows"],
                  ["never", "at the start only"],
                ]}
                commit={(refill) => change({ refill: refill as "at once" })}
              />
            )}
          </>
        )}
        <button type="button" className="icon-button" aria-label={`Remove the market ${zone.name}`} onClick={remove}>
          <Trash2 size={15} aria-hidden="true" />
        </button>
      </div>
      <CardsOf
        label={kind === "row" && zone.source ? `Cards of ${nameOf(play, zone.source)}` : "Cards"}
        none="No cards yet"
        group={placed?.group ?? null}
        cards={placed?.cards ?? {}}
        put={stock}
      />
      <div className="form form-row">
        <Picking
          label="Paid in"
          value={market.pays}
          options={resources.map((each) => [each.id, each.names] as const)}
          commit={(pays) => put({ pays })}
        />
        <Picking
          label="Price"
          value={market.price ?? ""}
          options={[["", "the cost of cards"], ...priced.map((each) => [each.id, each.name] as const)]}
          commit={(price) => put({ price: price || null })}
        />
        <Picking
          label="A bought card goes to"
          value={market.goes_to}
          options={[
            ["discard", "the discard pile"],
            ["hand", "the hand"],
            ["draw", "the top of the draw pile"],
            ["play", "play"],
          ]}
          commit={(goes) => put({ goes_to: goes as "discard" })}
        />
        <Counting label="Bought in a turn" none="any" value={market.most} commit={(most) => put({ most })} />
        <AmountInput
          label="Cheaper by"
          placeholder="an amount, such as count (own card)"
          text={less?.text ?? ""}
          words={less?.words ?? ""}
          put={(amount) => put({ less: amount || null })}
          empty
        />
      </div>
      {kind === "row" && (
        <div className="form form-row">
          <Typing
            label="Added to the price by place, oldest first"
            placeholder="2 1 0"
            value={market.by_place.join(" ")}
            commit={(text) => {
              const said = text.trim() ? text.trim().split(/[\s,;]+/) : [];
              if (said.length > 20 || said.some((each) => !/^[-+]?\d{1,2}$/.test(each))) return false;
              put({ by_place: said.map(Number) });
              return true;
            }}
          />
          <Picking
            label="Left on each card passed over"
            value={market.passing?.resource ?? ""}
            options={[["", "nothing"], ...resources.map((each) => [each.id, each.names] as const)]}
            commit={(resource) => put({ passing: resource ? { resource, number: market.passing?.number ?? 1 } : null })}
          />
          {market.passing && (
            <Counting
              label="How many"
              value={market.passing.number}
              commit={(number) => market.passing && put({ passing: { ...market.passing, number: number || 1 } })}
            />
          )}
        </div>
      )}
    </li>
  );
}

const nameOf = (play: PlayDoc, ident: string): string => play.zones.find((each) => each.id === ident)?.name ?? ident;

function Counters({ play, lay }: { play: PlayDoc; lay: EditPlay }) {
  const counters = play.counters ?? [];
  const shared = play.zones.filter((each) => each.shared && each.kind);
  return (
    <>
      <ul className="market-list">
        {counters.map((counter, at) => {
          const put = (part: Partial<CounterDoc>) => lay({ counters: replaced(counters, at, part) });
          return (
            <li key={counter.id} className="form form-row" aria-label={`Counter: ${counter.name}`}>
              <Typing
                label="Name"
                value={counter.name}
                commit={(name) => {
                  if (!name.trim()) return false;
                  put({ name: name.trim() });
                  return true;
                }}
              />
              <ZoneCheckboxes
                label="Grows on cards in"
                zones={shared.map((zone) => [zone.id, zone.name] as const)}
                chosen={counter.zones}
                put={(zones) => put({ zones })}
              />
              <Typing
                label="Added to the price for each"
                value={String(counter.price ?? 0)}
                commit={(text) => {
                  if (!/^\s*[-+]?\d{1,2}\s*$/.test(text)) return false;
                  put({ price: Number(text) });
                  return true;
                }}
              />
              <button
                type="button"
                className="icon-button"
                aria-label={`Remove the counter ${counter.name}`}
                onClick={() => lay({ counters: without(counters, at) })}
              >
                <Trash2 size={14} aria-hidden="true" />
              </button>
            </li>
          );
        })}
      </ul>
      {shared.length > 0 ? (
        <NewNameInput
          label="A counter"
          does="Add"
          add={async (name) => {
            const counter = {
              id: freeId(name, counters),
              name,
              symbol: "",
              zones: shared.map((each) => each.id),
              price: 0,
            };
            lay({ counters: [...counters, counter] });
            return true;
          }}
        />
      ) : (
        <p className="soft">
          A counter grows on cards that lie in a row or supply, and can change their price and score.
        </p>
      )}
    </>
  );
}
