// The turn as a strip of phases: add, move, rename; the actions of each, in order; and answers to played cards.
import { ChevronLeft, ChevronRight, Trash2 } from "lucide-react";
import { NewNameInput } from "../../../ui/NewNameInput";
import { Counting, Picking, Typing } from "../../../ui/Typing";
import type { Resource, TableDoc, Write } from "../../useParts";
import { moved, newPhase, type PhaseAction, type PhaseDoc, type PlayDoc, replaced, without } from "../playDoc";
import type { EditPlay } from "../types";
import { PhaseActions } from "./PhaseActions";
import { TypeCheckboxes } from "./TypeCheckboxes";

type Props = {
  play: PlayDoc;
  lay: EditPlay;
  table: TableDoc;
  resources: Resource[];
  actions: PhaseAction[];
  write: Write;
};

export function TurnEditor({ play, lay, table, resources, actions, write }: Props) {
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
                title="Refused while effects refer to it"
                onClick={() => lay({ phases: without(phases, at) })}
              >
                <Trash2 size={14} aria-hidden="true" />
              </button>
            </header>
            <PhaseActions
              phase={phase}
              play={play}
              table={table}
              resources={resources}
              actions={actions}
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
