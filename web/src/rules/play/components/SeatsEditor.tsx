// Seats and zones as a drawing of both sides, in which each zone can be selected.
import { Eye, EyeOff, Shuffle, Trash2 } from "lucide-react";
import { useState } from "react";
import { NewNameInput } from "../../../ui/NewNameInput";
import { counted } from "../../../ui/plural";
import { Counting, Picking, Ticking, Typing } from "../../../ui/Typing";
import { CardPicker } from "../../components/CardPicker";
import { freeId } from "../../ids";
import type { TableDoc, Write } from "../../useParts";
import { type PlayDoc, replaced, type ZoneDoc } from "../playDoc";
import type { EditPlay } from "../types";

type Props = { play: PlayDoc; lay: EditPlay; table: TableDoc; write: Write };
type Shown = { id: string; name: string; told: string; seen: "owner" | "all" | "none"; own: ZoneDoc | null };

const SEATS = [1, 2, 3, 4];
const USUAL = [
  ["draw", "draw pile", "none", "In order, face down. Decks begin here, shuffled."],
  ["hand", "hand", "owner", "Seen by its owner."],
  ["play", "in play", "all", "Open to all; cards keep the order in which they came."],
  ["discard", "discard pile", "all", "In order, face up."],
  ["removed", "removed", "all", "Out of the match."],
] as const;

export function SeatsEditor({ play, lay, table, write }: Props) {
  const [at, setAt] = useState("draw");
  const usual: Shown[] = USUAL.map(([id, plain, seen, told]) => ({
    id,
    name: table.zones[id] ?? plain,
    seen,
    told,
    own: null,
  }));
  const own: Shown[] = play.zones.map((zone) => ({
    id: zone.id,
    name: zone.name,
    seen: zone.seen,
    told: zone.limit ? `At most ${counted(zone.limit, "card")}.` : "As many cards as there are.",
    own: zone,
  }));
  const mine = own.filter((zone) => !zone.own?.shared);
  const shared = own.filter((zone) => zone.own?.shared);
  const chosen = [...usual, ...own].find((zone) => zone.id === at) ?? usual[0];
  const group = play.set_up.placed.find((each) => each.zone === at)?.group ?? null;
  const laid = (id: string) => play.set_up.placed.find((each) => each.zone === id)?.cards ?? {};
  const rest = play.set_up.placed.filter((each) => each.zone !== at);
  const box = (zone: Shown, alive: boolean) => {
    const count = Object.values(laid(zone.id)).reduce((sum, each) => sum + each, 0);
    const inside = (
      <>
        <b>{zone.name}</b>
        <span>
          {zone.seen === "none" ? (
            <EyeOff size={12} aria-label="face down" />
          ) : zone.seen === "owner" ? (
            <>
              <Eye size={12} aria-hidden="true" /> owner
            </>
          ) : (
            <>
              <Eye size={12} aria-hidden="true" /> all
            </>
          )}
          {zone.own?.shuffled && <Shuffle size={12} aria-label="shuffled at the start" />}
          {zone.own?.limit ? ` ≤ ${zone.own.limit}` : ""}
          {count > 0 && ` · ${count} laid out`}
        </span>
      </>
    );
    return alive ? (
      <button
        key={zone.id}
        type="button"
        className={`zone-box zone-${zone.own ? "own" : zone.id}`}
        aria-pressed={zone.id === at}
        onClick={() => setAt(zone.id)}
      >
        {inside}
      </button>
    ) : (
      <span key={zone.id} className={`zone-box zone-${zone.own ? "own" : zone.id}`}>
        {inside}
      </span>
    );
  };
  const side = (alive: boolean) => [...usual, ...mine].map((zone) => box(zone, alive));
  const change = (part: Partial<ZoneDoc>) =>
    lay({
      zones: replaced(
        play.zones,
        play.zones.findIndex((zone) => zone.id === at),
        part,
      ),
    });
  return (
    <>
      <div className="form form-row">
        <Picking
          label="Seats, usually"
          value={String(play.seats)}
          options={[
            ["1", "one: played alone"],
            ["2", "two, against each other"],
            ["3", "three, each for itself"],
            ["4", "four, each for itself"],
          ]}
          commit={(text) => {
            const seats = Number(text);
            const least = play.least_seats ?? play.seats;
            const most = play.most_seats ?? play.seats;
            // One fixed number stays one; a range is widened where the usual number would lie outside.
            const fixed = least === most;
            lay({
              seats,
              free: seats === 1 ? play.free : false,
              least_seats: fixed ? null : Math.min(seats, least),
              most_seats: fixed ? null : Math.max(seats, most),
            });
          }}
        />
        <Picking
          label="At least"
          value={String(play.least_seats ?? play.seats)}
          options={SEATS.filter((each) => each <= play.seats).map((each) => [String(each), String(each)] as const)}
          commit={(least) => lay({ least_seats: Number(least) })}
        />
        <Picking
          label="At most"
          value={String(play.most_seats ?? play.seats)}
          options={SEATS.filter((each) => each >= play.seats).map((each) => [String(each), String(each)] as const)}
          commit={(most) => lay({ most_seats: Number(most) })}
        />
        {play.seats === 1 && (
          <Ticking
            label="Also draw, discard and clear cards away by hand"
            value={play.free}
            commit={(free) => lay({ free })}
            help="As one likes, at any time of the turn"
          />
        )}
      </div>
      <div className="zones-drawn mat" role="group" aria-label="Zones of both sides">
        {play.seats > 1 && (
          <div className="zones-side zones-rival" aria-hidden="true">
            {side(false)}
          </div>
        )}
        {shared.length > 0 && <div className="zones-shared">{shared.map((zone) => box(zone, true))}</div>}
        <div className="zones-side">{side(true)}</div>
      </div>
      {chosen && (
        <section className="zone-chosen" aria-label={`Zone: ${chosen.name}`}>
          <div className="form form-row">
            {chosen.own ? (
              <>
                <Typing label="Name" value={chosen.own.name} commit={(name) => change({ name: name.trim() })} />
                <Picking
                  label="Whose"
                  value={chosen.own.shared ? "shared" : "own"}
                  options={[
                    ["own", "one of each player"],
                    ["shared", "one for the table"],
                  ]}
                  commit={(whose) => change({ shared: whose === "shared" })}
                />
                <Picking
                  label="Seen by"
                  value={chosen.own.seen}
                  options={[
                    ["all", "all"],
                    ["owner", "its owner"],
                    ["none", "nobody: face down"],
                  ]}
                  commit={(seen) => change({ seen: seen as ZoneDoc["seen"] })}
                />
                <Counting label="At most" none="any" value={chosen.own.limit} commit={(limit) => change({ limit })} />
                <Ticking
                  label="Shuffled at the start"
                  value={chosen.own.shuffled}
                  commit={(shuffled) => change({ shuffled })}
                />
                <button
                  type="button"
                  className="icon-button"
                  aria-label={`Remove ${chosen.name}`}
                  title="Refused while effects refer to it"
                  onClick={() =>
                    lay({
                      zones: play.zones.filter((zone) => zone.id !== at),
                      set_up: { ...play.set_up, placed: rest },
                    })
                  }
                >
                  <Trash2 size={15} aria-hidden="true" />
                </button>
              </>
            ) : (
              <>
                <Typing
                  label="Name"
                  placeholder={USUAL.find(([id]) => id === chosen.id)?.[1] ?? ""}
                  value={table.zones[chosen.id] ?? ""}
                  commit={(text) => {
                    const zones = { ...table.zones, [chosen.id]: text.trim() };
                    if (!text.trim()) delete zones[chosen.id];
                    void write("table", { ...table, zones });
                  }}
                />
                <span className="soft zone-told">{chosen.told}</span>
              </>
            )}
          </div>
          {chosen.id !== "draw" && chosen.id !== "hand" && (
            <CardPicker
              label={`Cards that lie ${chosen.id === "play" ? "there" : "in it"} when a match begins`}
              counted
              cards={laid(at)}
              put={(cards) =>
                lay({
                  set_up: {
                    ...play.set_up,
                    placed: Object.keys(cards).length || group ? [...rest, { zone: at, cards, group }] : rest,
                  },
                })
              }
            />
          )}
        </section>
      )}
      <NewNameInput
        label="A zone of your own"
        does="Add"
        add={async (name) => {
          const id = freeId(name, [...play.zones, ...USUAL.map(([ident]) => ({ id: ident }))]);
          lay({ zones: [...play.zones, { id, name, shared: false, seen: "all", limit: null, shuffled: false }] });
          setAt(id);
          return true;
        }}
      />
    </>
  );
}
