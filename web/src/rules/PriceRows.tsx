// What effects are worth: a row for each kind, the row that names most wins. What is empty matches anything.
import { Trash2 } from "lucide-react";
import { useGame } from "../state/store";
import { Picking, Typing } from "../ui/Typing";
import { type PriceRow, pointsOf, wholeOrNone } from "./useParts";

type Props = { rows: PriceRow[]; verbs: string[]; cues: string[]; put: (rows: PriceRow[]) => void };
type Choices = readonly (readonly [string, string])[];

const ANY: Choices = [["", "any"]];
const AFFECTS: Choices = [...ANY, ["self", "yourself"], ["rival", "a rival"], ["anyone", "anyone"]];
const REACH: Choices = [...ANY, ["this", "this card"], ["one", "one"], ["all", "all"]];
const CUES: Record<string, string> = { play: "on play", enter: "on entering", leave: "on leaving" };
const NEW = { resource: null, stat: null, affects: null, reach: null, cue: null };

export function PriceRows({ rows, verbs, cues, put }: Props) {
  const game = useGame((state) => state.game);
  if (!game) return null;
  const change = (at: number, part: Partial<PriceRow>) =>
    put(rows.map((row, place) => (place === at ? { ...row, ...part } : row)));
  const stats: Choices = game.fields.filter((field) => field.kind === "number").map((field) => [field.id, field.name]);
  const resources: Choices = game.resources.map((each) => [each.id, each.name]);
  const add = (verb: string) =>
    put([
      ...rows,
      { ...NEW, id: freeName(verb, rows), verb, curve: { each: "1", flat: null, until: null, further: "0" } },
    ]);
  return (
    <>
      <div className="budgets" tabIndex={0} role="region" aria-label="Worth of effects">
        <table>
          <thead>
            <tr>
              <th scope="col">Called</th>
              <th scope="col">Effect</th>
              <th scope="col">Of what</th>
              <th scope="col">Whom</th>
              <th scope="col">How many</th>
              <th scope="col">When</th>
              <th scope="col">A point each</th>
              <th scope="col">up to</th>
              <th scope="col">then each</th>
              <th scope="col">
                <span className="unseen">Remove</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {rows.map((row, at) => {
              const of = row.verb === "raise" ? stats : row.verb === "gain" || row.verb === "lose" ? resources : null;
              const kind = row.verb === "raise" ? "stat" : "resource";
              const curve = row.curve;
              return (
                <tr key={row.id}>
                  <td>
                    <Typing
                      hidden
                      label={`Name of ${row.id}`}
                      value={row.id}
                      commit={(id) => change(at, { id: id.trim() || row.id })}
                    />
                  </td>
                  <td>
                    <Picking
                      hidden
                      label={`Effect of ${row.id}`}
                      value={row.verb}
                      options={verbs.map((verb) => [verb, verb] as const)}
                      commit={(verb) => change(at, { ...NEW, verb })}
                    />
                  </td>
                  <td>
                    {of ? (
                      <Picking
                        hidden
                        label={`Of what: ${row.id}`}
                        value={row[kind] ?? ""}
                        options={[...ANY, ...of]}
                        commit={(ident) => change(at, { [kind]: ident || null })}
                      />
                    ) : (
                      <span className="soft">—</span>
                    )}
                  </td>
                  <td>
                    <Picking
                      hidden
                      label={`Whom: ${row.id}`}
                      value={row.affects ?? ""}
                      options={AFFECTS}
                      commit={(whom) => change(at, { affects: (whom || null) as PriceRow["affects"] })}
                    />
                  </td>
                  <td>
                    <Picking
                      hidden
                      label={`How many: ${row.id}`}
                      value={row.reach ?? ""}
                      options={REACH}
                      commit={(reach) => change(at, { reach: (reach || null) as PriceRow["reach"] })}
                    />
                  </td>
                  <td>
                    <Picking
                      hidden
                      label={`When: ${row.id}`}
                      value={row.cue ?? ""}
                      options={[...ANY, ...cues.map((cue) => [cue, CUES[cue] ?? cue] as const)]}
                      commit={(cue) => change(at, { cue: cue || null })}
                    />
                  </td>
                  <td>
                    <Typing
                      hidden
                      number
                      label={`Worth of ${row.id}`}
                      placeholder="open"
                      value={curve ? (curve.flat ?? curve.each) : ""}
                      commit={(text) =>
                        change(at, {
                          curve: text.trim()
                            ? {
                                flat: null,
                                until: null,
                                further: "0",
                                ...curve,
                                each: pointsOf(text, curve?.each ?? "0"),
                                ...(curve?.flat != null ? { flat: pointsOf(text, curve.flat) } : {}),
                              }
                            : null,
                        })
                      }
                    />
                  </td>
                  <td>
                    <Typing
                      hidden
                      number
                      label={`Up to: ${row.id}`}
                      placeholder="any"
                      value={curve?.until == null ? "" : String(curve.until)}
                      commit={(text) =>
                        curve &&
                        change(at, {
                          curve: {
                            ...curve,
                            until: wholeOrNone(text, curve.until),
                            flat: text.trim() ? curve.flat : null,
                          },
                        })
                      }
                    />
                  </td>
                  <td>
                    <Typing
                      hidden
                      number
                      label={`Then each: ${row.id}`}
                      value={curve?.until == null ? "" : curve.further}
                      commit={(text) =>
                        curve && change(at, { curve: { ...curve, further: pointsOf(text, curve.further) } })
                      }
                    />
                  </td>
                  <td>
                    <button
                      type="button"
                      className="icon-button"
                      aria-label={`Remove ${row.id}`}
                      onClick={() => put(rows.filter((_, place) => place !== at))}
                    >
                      <Trash2 size={15} aria-hidden="true" />
                    </button>
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      </div>
      <div className="form-row price-add">
        <Picking
          label="Price another effect"
          value=""
          options={[["", "choose an effect"], ...verbs.map((verb) => [verb, verb] as const)]}
          commit={(verb) => verb && add(verb)}
        />
      </div>
    </>
  );
}

function freeName(verb: string, rows: PriceRow[]): string {
  let name = verb;
  for (let number = 2; rows.some((row) => row.id === name); number++) name = `${verb} ${number}`;
  return name;
}
