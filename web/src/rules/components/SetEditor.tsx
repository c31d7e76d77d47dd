// One set: its name, the pattern of its codes, its back.
import { useState } from "react";
import { putSet, type Rules, removeSamples, takeSetOut } from "../../state/cardRules";
import type { Game } from "../../state/client";
import { useGame } from "../../state/store";
import { counted } from "../../ui/plural";
import { Picking, Typing } from "../../ui/Typing";
import { useDocDraft } from "../useDocDraft";
import { BackEditor } from "./BackEditor";

type SetDoc = Game["sets"][number];
type Props = { set: SetDoc; rules: Rules; gone: () => void };

export function SetEditor({ set, rules, gone }: Props) {
  const sets = useGame((state) => state.game?.sets ?? []);
  const [to, setTo] = useState("");
  const count = rules.in_set[set.id] ?? 0;
  const others = sets.filter((each) => each.id !== set.id);
  const target = to || (others[0]?.id ?? "");
  const { draft, edit } = useDocDraft(set, {
    // Edits bring the sets with their answers.
    fetched: async () => useGame.getState().game?.sets.find((each) => each.id === set.id),
    write: (doc) => putSet({ ...doc, back: doc.back as never }),
    back: true,
  });
  const put = (part: Partial<SetDoc>) => void edit((doc) => ({ ...doc, ...part }));
  return (
    <div className="rules-editor">
      <div className="rules-main rules-whole">
        <h2 className="rules-title">{set.name}</h2>
        <p className="soft">{counted(count, "card")}</p>
        <div className="form form-row">
          <Typing label="Name" value={draft.name} commit={(name) => put({ name })} />
          <Typing label="Short code" value={draft.code} commit={(code) => put({ code })} />
          <Typing label="Codes of new cards" value={draft.pattern} commit={(pattern) => put({ pattern })} />
        </div>
        <p className="soft">
          {"{n} is the number, {n:03} the number with three places"}: the next card may be called{" "}
          {sample(draft.pattern, count + 1)}.
        </p>
        <h3>Back</h3>
        <BackEditor
          of="This set has"
          back={draft.back}
          otherwise="Its cards have the back of their type."
          change={(back) => put({ back: back as never })}
        />
        {set.samples && count > 0 && others.length > 0 && (
          <div className="rules-remove form form-row">
            <button
              type="button"
              className="button"
              onClick={() => void removeSamples().then((done) => done && gone())}
            >
              Remove the sample cards
            </button>
            <span className="soft">They go from decks too; undo brings all of it back.</span>
          </div>
        )}
        {others.length > 0 && (
          <div className="rules-remove form form-row">
            {count > 0 && (
              <Picking
                label="Its cards go to"
                value={target}
                options={others.map((each) => [each.id, each.name] as const)}
                commit={setTo}
              />
            )}
            <button
              type="button"
              className="button"
              onClick={() => void takeSetOut(set.id, count ? target : null).then((done) => done && gone())}
            >
              Remove the set
            </button>
          </div>
        )}
      </div>
    </div>
  );
}

/** How a pattern looks; the server has the say. */
const sample = (pattern: string, number: number): string =>
  pattern.replace(/\{n(?::0?(\d))?\}/, (_, wide) => String(number).padStart(Number(wide ?? 0), "0"));
