// The turn as a strip of phases: add, move, rename; the actions of each, in order; and answers to played cards.
import { ArrowDown, ArrowUp, ChevronLeft, ChevronRight, Trash2, X } from "lucide-react";
import { useGame } from "../../../state/store";
import { Menu } from "../../../ui/Menu";
import { NewNameInput } from "../../../ui/NewNameInput";
import { Counting, Picking, Typing } from "../../../ui/Typing";
import type { Resource, TableDoc, Write } from "../../useParts";
import {
  DOINGS,
  type DoingDoc,
  type FirstTurn,
  moved,
  newDoing,
  newPhase,
  type PhaseDoc,
  type PlayDoc,
  replaced,
  without,
} from "../playDoc";
import type { EditPlay } from "../types";
import { TypeCheckboxes } from "./TypeCheckboxes";

type Props = { play: PlayDoc; lay: EditPlay; table: TableDoc; resources: Resource[]; write: Write };

export function TurnEditor({ play, lay, table, resources, write }: Props) {
  const phases = play.phases;
  const put = (at: number, part: Partial<PhaseDoc>) => lay({ phases: replaced(phases, at, part) });
  return (
    <>
      <ol className="turn-strip" aria-label="Phases of a turn">
        {phases.map((phase, at) => (
          <li key={phase.id} className="turn-phase" aria-label={phase.name}>
            <header>
              <span className="turn-number num">{at + 1}</span>
              <Typing
                label={`Name of phase ${at + 1}`}
                hidden
                value={phase.name}
                commit={(name) => (name.trim() ? put(at, { name: name.trim() }) : false)}
              />
              <button
                type="button"
                className="icon-button"
                aria-label={`${phase.name} earlier`}
                disabled={at === 0}
                onClick={() => lay({ phases: moved(phases, at, -1) })}
              >
                <ChevronLeft size={15} aria-hidden="true" />
              </button>
              <button
                type="button"
                className="icon-button"
                aria-label={`${phase.name} later`}
                disabled={at === phases.length - 1}
                onClick={() => lay({ phases: moved(phases, at, 1) })}
              >
                <ChevronRight size={15} aria-hidden="true" />
              </button>
              <button
                type="button"
                className="icon-button"
                aria-label={`Remove ${phase.name}`}
                title="Refused while effects speak of it"
                onClick={() => lay({ phases: without(phases, at) })}
              >
                <Trash2 size={14} aria-hidden="true" />
              </button>
            </header>
            <PhaseDoes
              phase={phase}
              play={play}
              table={table}
              resources={resources}
              put={(does) => put(at, { does })}
            />
            {play.seats > 1 && (
              <Picking
                label={`Whose ${phase.name} is`}
                hidden
                value={phase.whose}
                options={[
                  ["active", `of the player whose ${table.turn} it is`],
                  ["each", "of each player, one after the other"],
                ]}
                commit={(whose) => put(at, { whose: whose as PhaseDoc["whose"] })}
              />
            )}
          </li>
        ))}
        <li className="turn-more">
          <NewNameInput
            label="A new phase"
            add={async (name) => {
              lay({ phases: [...phases, newPhase(name, phases)] });
              return true;
            }}
          />
        </li>
      </ol>
      <h3>Cards drawn</h3>
      <div className="form form-row">
        <Counting
          label={`Drawn each ${table.turn}`}
          value={table.turn_draw}
          commit={(draw) => void write("table", { ...table, turn_draw: draw ?? table.turn_draw })}
        />
        <Counting
          label="Hand limit"
          none="none"
          value={table.hand_limit}
          commit={(hand_limit) => void write("table", { ...table, hand_limit })}
        />
        <Picking
          label="When the draw pile is empty"
          value={table.empty_draw_pile}
          options={[
            ["reshuffle", "the discard pile is shuffled into it"],
            ["nothing", "nothing is drawn"],
            ["lose", "who has to draw has lost"],
          ]}
          commit={(empty) => void write("table", { ...table, empty_draw_pile: empty as TableDoc["empty_draw_pile"] })}
        />
        {table.empty_draw_pile === "reshuffle" && (
          <Counting
            label="Reshuffles at most"
            none="any"
            value={play.reshuffles}
            commit={(reshuffles) => lay({ reshuffles })}
          />
        )}
      </div>
      {play.seats > 1 && (
        <TypeCheckboxes
          label="Other players may answer a played card, before it does anything, with one"
          none="Nobody answers played cards."
          chosen={play.answers?.types ?? []}
          put={(types) => lay({ answers: types.length ? { types } : null })}
        />
      )}
    </>
  );
}

type DoesProps = {
  phase: PhaseDoc;
  play: PlayDoc;
  table: TableDoc;
  resources: Resource[];
  put: (does: DoingDoc[]) => void;
};

function PhaseDoes({ phase, play, table, resources, put }: DoesProps) {
  const damage = useGame((state) => state.game?.damage ?? "damage");
  const offered = DOINGS.filter(
    ([what]) =>
      (what !== "gain" || resources.length > 0) &&
      (what !== "turn over" || play.zones.length > 0) &&
      (what !== "clash" || play.seats > 1),
  );
  const set = (at: number, part: Partial<DoingDoc>) => put(replaced(phase.does, at, part as never));
  return (
    <>
      <ul className="phase-does">
        {phase.does.map((doing, at) => (
          <li key={`${at} ${doing.do}`} className="phase-doing">
            <span className="doing-said">
              <b>
                {doing.do === "clear damage"
                  ? `${damage} is cleared`
                  : (DOINGS.find(([what]) => what === doing.do)?.[1] ?? doing.do)}
              </b>
              <DoingSaid doing={doing} play={play} table={table} resources={resources} set={(part) => set(at, part)} />
            </span>
            <span className="doing-acts">
              <button
                type="button"
                aria-label={`${doing.do} earlier in ${phase.name}`}
                disabled={at === 0}
                onClick={() => put(moved(phase.does, at, -1))}
              >
                <ArrowUp size={13} aria-hidden="true" />
              </button>
              <button
                type="button"
                aria-label={`${doing.do} later in ${phase.name}`}
                disabled={at === phase.does.length - 1}
                onClick={() => put(moved(phase.does, at, 1))}
              >
                <ArrowDown size={13} aria-hidden="true" />
              </button>
              <button
                type="button"
                aria-label={`No ${doing.do} in ${phase.name}`}
                onClick={() => put(without(phase.does, at))}
              >
                <X size={13} aria-hidden="true" />
              </button>
            </span>
          </li>
        ))}
        {phase.does.length === 0 && <li className="soft">Nothing of itself; effects may speak of it.</li>}
      </ul>
      <Menu
        trigger={{ className: "button phase-add", children: `Add to ${phase.name}…` }}
        items={offered.map(([what, said]) => ({
          id: what,
          shown: what === "clear damage" ? `${damage} is cleared` : said,
          act: () => put([...phase.does, newDoing(what, resources[0]?.id ?? "", play.zones[0]?.id ?? "")]),
        }))}
      />
    </>
  );
}

const FIRST: readonly (readonly [FirstTurn, string])[] = [
  ["all", "every turn"],
  ["later seats", "not on the very first"],
  ["none", "not on a player's first"],
];

type SaidProps = {
  doing: DoingDoc;
  play: PlayDoc;
  table: TableDoc;
  resources: Resource[];
  set: (part: Record<string, unknown>) => void;
};

/** What there is to say of one thing that a phase does. */
function DoingSaid({ doing, play, table, resources, set }: SaidProps) {
  switch (doing.do) {
    case "draw":
      return (
        <>
          <Counting
            label="Cards drawn"
            hidden
            none={String(table.turn_draw)}
            value={doing.number}
            commit={(number) => set({ number })}
          />
          <Picking
            label="On which turns cards are drawn"
            hidden
            value={doing.first}
            options={FIRST}
            commit={(first) => set({ first })}
          />
        </>
      );
    case "refill":
      return (
        <Counting
          label="Cards held after a refill"
          hidden
          none={String(table.opening_hand)}
          value={doing.number}
          commit={(number) => set({ number })}
        />
      );
    case "grow":
      return (
        <Picking
          label="On which turns resources grow"
          hidden
          value={doing.first}
          options={FIRST}
          commit={(first) => set({ first })}
        />
      );
    case "gain":
      return (
        <>
          <Counting
            label="Gained at the least"
            hidden
            value={doing.number}
            commit={(number) => set({ number: number ?? doing.number })}
          />
          <Picking
            label="What is gained"
            hidden
            value={doing.resource}
            options={resources.map((each) => [each.id, each.names] as const)}
            commit={(resource) => set({ resource })}
          />
          <Counting
            label="Gained at the most, by chance"
            hidden
            none="just that"
            value={doing.most}
            commit={(most) => set({ most })}
          />
        </>
      );
    case "play":
      return (
        <>
          <TypeCheckboxes label="" none="of any type" chosen={doing.types} put={(types) => set({ types })} small />
          <Counting
            label="Cards played at most"
            hidden
            none="any number"
            value={doing.most}
            commit={(most) => set({ most })}
          />
        </>
      );
    case "turn over":
      return (
        <Picking
          label="Of which zone"
          hidden
          value={doing.zone}
          options={play.zones.map((zone) => [zone.id, zone.name] as const)}
          commit={(zone) => set({ zone })}
        />
      );
    default:
      return null;
  }
}
