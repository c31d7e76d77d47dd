// Actions of the rules: what every player can do without a card of its own, such as exchanging one resource for another.
import { Trash2 } from "lucide-react";
import { Typing } from "../../../ui/Typing";
import { TypingLines } from "../../../ui/TypingLines";
import { freeId } from "../../ids";
import type { Resource } from "../../useParts";
import type { ActionDoc, PlayDoc } from "../playDoc";
import { freeName, quoted, replaced, without } from "../playDoc";
import type { EditPlay, PlayPreview } from "../types";

type Props = { play: PlayDoc; lay: EditPlay; resources: Resource[]; look: PlayPreview | null };

export function ActionsEditor({ play, lay, resources, look }: Props) {
  const actions = play.actions ?? [];
  const [from, to] = resources.filter((each) => !each.shared);
  const add = (name: string, effect: string) => {
    const free = freeName(name, actions);
    lay({ actions: [...actions, { id: freeId(free, actions), name: free, effect }] });
  };
  return (
    <>
      <p className="soft">
        What every player can do in a phase in which effects can be used, without a card. Each line is an offer:{" "}
        <code>offer pay 2 …, limit 1 a turn: gain 1 …</code>, or <code>offer free, limit 1 a turn: draw 1</code>. A
        limit counts for each player.
      </p>
      <ul className="market-list">
        {actions.map((action, at) => (
          <li key={action.id} className="market-item" aria-label={`Action: ${action.name}`}>
            <div className="form form-row">
              <Typing
                label="Name"
                value={action.name}
                commit={(name) =>
                  name.trim() ? lay({ actions: replaced<ActionDoc>(actions, at, { name: name.trim() }) }) : false
                }
              />
              <button
                type="button"
                className="icon-button"
                aria-label={`Remove the action ${action.name}`}
                onClick={() => lay({ actions: without(actions, at) })}
              >
                <Trash2 size={15} aria-hidden="true" />
              </button>
            </div>
            <TypingLines
              label="What it does"
              value={look?.actions[at]?.text ?? (typeof action.effect === "string" ? action.effect : "")}
              commit={(effect) => lay({ actions: replaced<ActionDoc>(actions, at, { effect }) })}
            />
            <p className="soft action-words">{look?.actions[at]?.words ?? ""}</p>
          </li>
        ))}
      </ul>
      {actions.length === 0 && <p className="soft">No actions: players act with their cards only.</p>}
      <div className="form-row">
        {from && to && (
          <button
            type="button"
            className="button"
            onClick={() =>
              add(
                `Exchange ${from.names.toLowerCase()}`,
                `offer pay 2 ${quoted(from.name)}, limit 3 a turn: gain 1 ${quoted(to.name)}`,
              )
            }
          >
            Add an exchange of resources
          </button>
        )}
        <button
          type="button"
          className="button"
          onClick={() => add("Draw a card", "offer free, limit 1 a turn: draw 1")}
        >
          Add an action
        </button>
      </div>
    </>
  );
}
