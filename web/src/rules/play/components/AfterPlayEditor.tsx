// What happens to a played card, by type; and resources with a shared cap.
import { Trash2 } from "lucide-react";
import { useGame } from "../../../state/store";
import { Counting, Picking } from "../../../ui/Typing";
import { type AfterDoc, type Becomes, type HostsDoc, type PlayDoc, replaced, without } from "../playDoc";
import type { EditPlay } from "../types";

const BECOMES: readonly (readonly [Becomes, string])[] = [
  ["stays", "stays in play"],
  ["discarded", "does what it says and is discarded"],
  ["tilted", "stays in play, tilted"],
  ["cleared", "stays in play until it is cleared away"],
  ["attached", "is attached to a card in play"],
  ["figure", "is discarded, and a figure of it stays"],
];

export function AfterPlayEditor({ play, lay }: { play: PlayDoc; lay: EditPlay }) {
  const game = useGame((state) => state.game);
  const types = game?.types ?? [];
  const resources = game?.resources ?? [];
  const of = (type: string) => play.after_play.find((each) => each.type === type);
  const put = (type: string, after: AfterDoc | null) =>
    lay({ after_play: [...play.after_play.filter((each) => each.type !== type), ...(after ? [after] : [])] });
  const hosts = (side: HostsDoc["side"], type: string | null): HostsDoc => ({ side, type, filters: [], zone: null });
  return (
    <>
      <p className="soft">
        What is not said here follows the card type: it stays or does not, as its own page in Rules says.
      </p>
      <ul className="after-list">
        {types.map((type) => {
          const after = of(type.id);
          const usual = type.stays ? "as its type says: stays in play" : "as its type says: is discarded";
          return (
            <li key={type.id} className="after-line" aria-label={type.name}>
              <b>{type.name}</b>
              <Picking
                label={`A played ${type.name.toLowerCase()}`}
                value={after?.becomes ?? ""}
                options={[["", usual], ...BECOMES]}
                commit={(becomes) =>
                  put(
                    type.id,
                    becomes
                      ? {
                          type: type.id,
                          becomes: becomes as Becomes,
                          hosts: becomes === "attached" ? hosts("own", null) : null,
                        }
                      : null,
                  )
                }
              />
              {after?.hosts && (
                <>
                  <Picking
                    label="To whose card"
                    value={after.hosts.side}
                    options={[
                      ["own", "your own"],
                      ["rival", "a rival's"],
                      ["any", "anyone's"],
                    ]}
                    commit={(side) =>
                      put(type.id, { ...after, hosts: hosts(side as "own", after.hosts?.type ?? null) })
                    }
                  />
                  <Picking
                    label="Of which type"
                    value={after.hosts.type ?? ""}
                    options={[["", "any card"], ...types.map((each) => [each.id, each.name] as const)]}
                    commit={(host) =>
                      put(type.id, { ...after, hosts: hosts(after.hosts?.side ?? "own", host || null) })
                    }
                  />
                </>
              )}
            </li>
          );
        })}
      </ul>
      {resources.length > 1 && (
        <>
          <h3>Resources capped together</h3>
          {play.common.map((common, at) => (
            <div key={common.resources.join()} className="form form-row">
              <fieldset className="types-ticked">
                {resources.map((each) => (
                  <label key={each.id} className="form-check">
                    <input
                      type="checkbox"
                      checked={common.resources.includes(each.id)}
                      onChange={(event) => {
                        const next = event.target.checked
                          ? [...common.resources, each.id]
                          : common.resources.filter((one) => one !== each.id);
                        if (next.length > 1) lay({ common: replaced(play.common, at, { resources: next }) });
                      }}
                    />
                    {each.names}
                  </label>
                ))}
              </fieldset>
              <Counting
                label="At most, in all"
                value={common.cap}
                commit={(cap) => lay({ common: replaced(play.common, at, { cap: cap ?? common.cap }) })}
              />
              <Picking
                label="What is over"
                value={common.over}
                options={[
                  ["lost", "is lost"],
                  ["choice", "the player chooses what to give back"],
                ]}
                commit={(over) => lay({ common: replaced(play.common, at, { over: over as "lost" }) })}
              />
              <button
                type="button"
                className="icon-button"
                aria-label="Not capped together"
                onClick={() => lay({ common: without(play.common, at) })}
              >
                <Trash2 size={14} aria-hidden="true" />
              </button>
            </div>
          ))}
          {play.common.length === 0 && (
            <button
              type="button"
              className="button"
              onClick={() =>
                lay({
                  common: [{ resources: resources.slice(0, 2).map((each) => each.id), cap: 10, over: "lost" }],
                })
              }
            >
              Cap {resources[0]?.names.toLowerCase()} and {resources[1]?.names.toLowerCase()} together
            </button>
          )}
        </>
      )}
    </>
  );
}
