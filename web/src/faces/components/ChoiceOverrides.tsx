// Overrides of a placement for each value of a choice field, such as another colour or none.
import { useGame } from "../../state/store";
import { Picking } from "../../ui/Typing";
import { MAIN_COLOUR } from "../placementProperties";
import type { Patch, Place } from "../usePlans";
import { Colour, Figure } from "./inputs";

const MOST_VALUES = 120;
type Looks = Record<string, Record<string, unknown>>;

export function ChoiceOverrides({ place, write }: { place: Place; write: (patches: Record<string, Patch>) => void }) {
  const game = useGame((state) => state.game);
  const fields = (game?.fields ?? []).filter((field) => field.kind === "choice");
  const per = String(place.full.per ?? "");
  const looks = (place.full.looks ?? {}) as Looks;
  const field = fields.find((each) => each.id === per);
  const list = game?.lists.find((each) => field && "list" in field && each.id === field.list);
  const kind = String(place.full.kind);
  const main = kind === "panel" && place.full.stroke && !place.full.fill ? "stroke" : (MAIN_COLOUR[kind] ?? "");
  if (!fields.length) return null;
  const put = (value: string, patch: Record<string, unknown>) => {
    const now = { ...(looks[value] ?? {}), ...patch };
    for (const [key, said] of Object.entries(now)) if (said === undefined) delete now[key];
    const next = { ...looks, [value]: now };
    if (!Object.keys(now).length) delete next[value];
    write({ [place.id]: { looks: next } });
  };
  // A list may have thousands of values: those beyond stay as all are.
  const offered = (list?.values ?? []).filter((value) => !value.retired);
  const values: [string, string][] = [
    ["", "no value"],
    ...offered.slice(0, MOST_VALUES).map((value): [string, string] => [value.id, value.name]),
  ];
  return (
    <section className="inspector-part" aria-label="Variations by value">
      <h3>Variations by value</h3>
      <Picking
        label="Choice field"
        hidden
        value={per}
        options={[["", "the same for all"], ...fields.map((each) => [each.id, each.name] as const)]}
        commit={(next) => write({ [place.id]: { per: next, looks: next === per ? looks : {} } })}
      />
      {field && (
        <ul className="otherwise">
          {values.map(([id, name]) => {
            const look = looks[id] ?? {};
            return (
              <li key={id}>
                <label className="form-check" title={`Shown on cards with ${name}`}>
                  <input
                    type="checkbox"
                    checked={!look.off}
                    onChange={(event) => put(id, { off: event.target.checked ? undefined : true })}
                  />
                  {name}
                </label>
                {main && !look.off && (
                  <span className="otherwise-looks">
                    {main in look ? (
                      <>
                        <Colour
                          label={`${name}: colour`}
                          value={String(look[main] ?? "")}
                          none
                          commit={(next) => put(id, { [main]: next })}
                        />
                        <button type="button" className="link" onClick={() => put(id, { [main]: undefined })}>
                          as all
                        </button>
                      </>
                    ) : (
                      <button
                        type="button"
                        className="link"
                        aria-label={`${name}: another colour`}
                        onClick={() => put(id, { [main]: String(place.full[main] || "#23281f") })}
                      >
                        other colour
                      </button>
                    )}
                    {kind === "panel" && Boolean(place.full.stroke) && (
                      <Figure
                        label={`${name}: frame, mm`}
                        hidden
                        value={Number(look.thick ?? place.full.thick ?? 0)}
                        step={0.1}
                        commit={(thick) => put(id, { thick })}
                      />
                    )}
                  </span>
                )}
              </li>
            );
          })}
        </ul>
      )}
    </section>
  );
}
