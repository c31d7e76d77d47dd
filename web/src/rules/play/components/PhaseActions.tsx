// The actions of a phase, in order, with their settings: all from the records that the server sends.
import { ArrowDown, ArrowUp, X } from "lucide-react";
import { useGame } from "../../../state/store";
import { Menu } from "../../../ui/Menu";
import { Counting, Picking, Ticking } from "../../../ui/Typing";
import type { Resource, TableDoc } from "../../useParts";
import {
  type DoingDoc,
  moved,
  newDoing,
  type PhaseAction,
  type PhaseDoc,
  type PlayDoc,
  replaced,
  without,
} from "../playDoc";
import { TypeCheckboxes } from "./TypeCheckboxes";

type Props = {
  phase: PhaseDoc;
  play: PlayDoc;
  table: TableDoc;
  resources: Resource[];
  actions: PhaseAction[];
  put: (does: DoingDoc[]) => void;
};

export function PhaseActions({ phase, play, table, resources, actions, put }: Props) {
  const numbers = useNumbers();
  const damage = useGame((state) => state.game?.damage ?? "damage");
  const met = {
    "": true,
    resources: resources.length > 0,
    zones: play.zones.length > 0,
    rivals: play.seats > 1,
    rows: play.zones.some((each) => each.kind === "row"),
    counters: (play.counters ?? []).length > 0,
    numbers: play.zones.length > 0 && numbers.length > 0,
  };
  const nameOf = (action: PhaseAction) => action.name.replace("{damage}", damage);
  const recordOf = (doing: DoingDoc) => actions.find((each) => each.do === doing.do);
  return (
    <>
      <ul className="phase-does">
        {phase.does.map((doing, at) => {
          const action = recordOf(doing);
          return (
            <li key={`${at} ${doing.do}`} className="phase-doing">
              <span className="doing-said">
                <b>{action ? nameOf(action) : doing.do}</b>
                {action?.settings.map((setting) => (
                  <SettingInput
                    key={setting.key}
                    setting={setting}
                    value={doing[setting.key]}
                    play={play}
                    table={table}
                    resources={resources}
                    set={(value) => put(replaced(phase.does, at, { [setting.key]: value }))}
                  />
                ))}
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
          );
        })}
        {phase.does.length === 0 && <li className="soft">Nothing by itself; effects can refer to it.</li>}
      </ul>
      <Menu
        trigger={{ className: "button phase-add", children: `Add to ${phase.name}…` }}
        items={actions
          .filter((action) => met[action.needs])
          .map((action) => ({
            id: action.do,
            shown: nameOf(action),
            act: () =>
              put([
                ...phase.does,
                newDoing(action, resources[0]?.id ?? "", play.zones[0]?.id ?? "", numbers[0]?.id ?? ""),
              ]),
          }))}
      />
    </>
  );
}

/** The whole numbers that cards have. */
function useNumbers() {
  const fields = useGame((state) => state.game?.fields);
  return fields?.filter((each) => each.kind === "number") ?? [];
}

const FIRST_TURNS = [
  ["all", "every turn"],
  ["later seats", "not on the very first"],
  ["none", "not on a player's first"],
] as const;

const MAY = [
  ["play", "play cards"],
  ["use", "use effects, take actions"],
  ["buy", "buy"],
] as const;

type SettingProps = {
  setting: PhaseAction["settings"][number];
  value: unknown;
  play: PlayDoc;
  table: TableDoc;
  resources: Resource[];
  set: (value: unknown) => void;
};

function SettingInput({ setting, value, play, table, resources, set }: SettingProps) {
  const numbers = useNumbers();
  if (setting.kind === "number") {
    const preset = { turn_draw: table.turn_draw, opening_hand: table.opening_hand }[setting.none ?? ""];
    return (
      <Counting
        label={setting.label}
        hidden
        {...(setting.none === null ? {} : { none: String(preset ?? setting.none) })}
        value={value as number | null}
        commit={set}
      />
    );
  }
  if (setting.kind === "types")
    return <TypeCheckboxes label="" none={setting.none ?? ""} chosen={(value ?? []) as string[]} put={set} small />;
  if (setting.kind === "yes")
    return <Ticking label={setting.label.toLowerCase()} value={(value as boolean) ?? false} commit={set} />;
  if (setting.kind === "may") {
    const may = (value as string[] | undefined) ?? ["play", "use"];
    return (
      <span className="doing-may" role="group" aria-label={setting.label}>
        {MAY.map(([id, name]) => (
          <Ticking
            key={id}
            label={name}
            value={may.includes(id)}
            commit={(yes) => {
              const next = MAY.map(([each]) => each).filter((each) => (each === id ? yes : may.includes(each)));
              if (next.length) set(next);
            }}
          />
        ))}
      </span>
    );
  }
  const options = {
    field: numbers.map((each) => [each.id, each.name] as const),
    "first turns": FIRST_TURNS,
    resource: resources.map((each) => [each.id, each.names] as const),
    zone: play.zones.map((each) => [each.id, each.name] as const),
    "how often": [
      ["turn", "in every turn"],
      ["round", "once a round"],
    ] as const,
  }[setting.kind];
  return <Picking label={setting.label} hidden value={(value as string) ?? ""} options={options} commit={set} />;
}
