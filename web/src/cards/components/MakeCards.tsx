// Create many cards: variants with a stepped number, or cards drawn from ranges by a seed.

import { useState } from "react";
import { generateCards, makeVariants } from "../../state/cells";
import type { Card, Schemas } from "../../state/client";
import { useSettled } from "../../state/debounced";
import { useAsked } from "../../state/query";
import { useGame } from "../../state/store";
import { counted } from "../../ui/plural";
import { SheetDialog, SheetFoot } from "../../ui/Sheet";
import * as requests from "../api";

type VariantsProps = {
  open: boolean;
  setOpen: (open: boolean) => void;
  card: Card;
  field: string;
  made: (ids: string[]) => void;
};

export function VariantsDialog({ open, setOpen, card, field, made }: VariantsProps) {
  const game = useGame((state) => state.game);
  const has = game?.types.find((type) => type.id === card.type)?.fields ?? [];
  const numbers = (game?.fields ?? []).filter((each) => each.kind === "number" && each.whole && has.includes(each.id));
  const [chosen, setChosen] = useState("");
  const [count, setCount] = useState(3);
  const [step, setStep] = useState(1);
  const ident = numbers.find((each) => each.id === (chosen || field))?.id ?? numbers[0]?.id ?? "";
  const start = Number(card.values[ident] ?? 0);
  const series = Array.from({ length: Math.max(0, Math.min(count, 12)) }, (_, place) => start + step * (place + 1));
  const make = async () => {
    const edit = await makeVariants(card.id, ident, count, step);
    if (edit) {
      setOpen(false);
      made(edit.made);
    }
  };
  return (
    <SheetDialog
      open={open}
      setOpen={setOpen}
      title={`Variants of ${card.title}`}
      about="Copies with one number stepped, each with a code of its own."
    >
      <div className="form form-row">
        <label>
          Number
          <select className="select" value={ident} onChange={(event) => setChosen(event.target.value)}>
            {numbers.map((each) => (
              <option key={each.id} value={each.id}>
                {each.name}
              </option>
            ))}
          </select>
        </label>
        <Counting label="How many" min={1} max={500} value={count} change={setCount} />
        <Counting label="Step" value={step} change={setStep} />
      </div>
      <p className="soft">
        {ident ? `${start} → ${series.join(", ")}${count > 12 ? " …" : ""}` : "This card has no whole number to step."}
      </p>
      <SheetFoot
        act={`Make ${counted(count, "card")}`}
        ready={ident !== "" && count >= 1}
        onAct={() => void make()}
        cancel={() => setOpen(false)}
      />
    </SheetDialog>
  );
}

type GenerateProps = { open: boolean; setOpen: (open: boolean) => void; setId: string; made: (ids: string[]) => void };
type Drawn = Record<string, { least: number; most: number }>;

export function GenerateDialog({ open, setOpen, setId, made }: GenerateProps) {
  const game = useGame((state) => state.game);
  const [type, setType] = useState("");
  const [count, setCount] = useState(10);
  const [seed, setSeed] = useState(() => Math.floor(Math.random() * 10_000));
  const [drawn, setDrawn] = useState<Drawn>({});
  const [picks, setPicks] = useState<Record<string, string[]>>({});
  const [least, setLeast] = useState("");
  const [most, setMost] = useState("");
  const [distinct, setDistinct] = useState(true);
  const kind = game?.types.find((each) => each.id === type) ?? game?.types[0];
  const fields = (game?.fields ?? []).filter((field) => kind?.fields.includes(field.id));
  const asked: Schemas["GenerateIn"] = {
    type: kind?.id ?? "",
    set: setId || (game?.sets[0]?.id ?? ""),
    count,
    seed,
    ranges: fields.flatMap((field) =>
      drawn[field.id] ? [{ field: field.id, ...(drawn[field.id] as Drawn[string]) }] : [],
    ),
    picks: fields.flatMap((field) =>
      picks[field.id]?.length ? [{ field: field.id, values: picks[field.id] as string[] }] : [],
    ),
    total_least: least === "" ? null : Number(least),
    total_most: most === "" ? null : Number(most),
    distinct,
    fixed: {},
  };
  const text = JSON.stringify(asked);
  const ready = (asked.ranges?.length ?? 0) + (asked.picks?.length ?? 0) > 0;

  const asking = async () => requests.lookAtGenerated({ params: { path: { game_id: game?.id ?? "" } }, body: asked });
  const wanted = useSettled(open && ready && game ? text : "");
  const { found, trouble: problem } = useAsked(wanted ? asking : null, wanted);
  const shown = problem ? [] : (found ?? []);

  const make = async () => {
    const done = await generateCards(asked);
    if (done?.edit) {
      setOpen(false);
      made(done.made);
    }
  };
  const columns = Object.keys(shown[0] ?? {});
  const name = (id: string) => fields.find((field) => field.id === id)?.name ?? id;
  return (
    <SheetDialog
      open={open}
      setOpen={setOpen}
      title="Generate cards"
      about="Chosen fields get random values: the same seed gives the same cards."
      className="generate-sheet"
    >
      <div className="form form-row">
        <label>
          Card type
          <select className="select" value={kind?.id} onChange={(event) => setType(event.target.value)}>
            {game?.types.map((each) => (
              <option key={each.id} value={each.id}>
                {each.name}
              </option>
            ))}
          </select>
        </label>
        <Counting label="How many" min={1} max={500} value={count} change={setCount} />
        <Counting label="Seed" min={0} value={seed} change={setSeed} />
        <button type="button" className="button" onClick={() => setSeed(Math.floor(Math.random() * 10_000))}>
          New seed
        </button>
      </div>
      <div className="generate-fields">
        {fields.map((field) =>
          field.kind === "number" && field.whole ? (
            <RangeRow
              key={field.id}
              name={field.name}
              range={drawn[field.id]}
              plain={{ least: field.least ?? 0, most: Math.min(field.most ?? 99, (field.least ?? 0) + 7) }}
              change={(range) => setDrawn(withEntry(drawn, field.id, range))}
            />
          ) : field.kind === "choice" ? (
            <PickRow
              key={field.id}
              name={field.name}
              values={
                game?.lists.find((each) => each.id === field.list)?.values?.filter((value) => !value.retired) ?? []
              }
              picked={picks[field.id]}
              change={(values) => setPicks(withEntry(picks, field.id, values))}
            />
          ) : null,
        )}
      </div>
      <div className="form form-row">
        <label>
          Total at least
          <input
            type="number"
            className="input num-input"
            value={least}
            placeholder="any"
            onChange={(event) => setLeast(event.target.value)}
          />
        </label>
        <label>
          Total at most
          <input
            type="number"
            className="input num-input"
            value={most}
            placeholder="any"
            onChange={(event) => setMost(event.target.value)}
          />
        </label>
        <label className="form-check">
          <input type="checkbox" checked={distinct} onChange={(event) => setDistinct(event.target.checked)} /> no two
          alike
        </label>
      </div>
      {shown.length > 0 && (
        <div className="generate-shown" tabIndex={0} role="region" aria-label="What would be made">
          <table className="plan-table">
            <thead>
              <tr>
                {columns.map((id) => (
                  <th key={id}>{name(id)}</th>
                ))}
                {(asked.ranges?.length ?? 0) > 1 && <th>total</th>}
              </tr>
            </thead>
            <tbody>
              {shown.slice(0, 60).map((card, place) => (
                <tr key={place}>
                  {columns.map((id) => (
                    <td key={id}>{card[id]}</td>
                  ))}
                  {(asked.ranges?.length ?? 0) > 1 && (
                    <td>{(asked.ranges ?? []).reduce((sum, each) => sum + Number(card[each.field] ?? 0), 0)}</td>
                  )}
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
      <SheetFoot
        act={`Make ${counted(count, "card")}`}
        ready={ready && !problem && shown.length > 0}
        onAct={() => void make()}
        cancel={() => setOpen(false)}
      >
        {problem ? (
          <span className="needs">
            {problem.detail}: {problem.mend}
          </span>
        ) : (
          !ready && <span className="soft">Choose the fields that get random values.</span>
        )}
      </SheetFoot>
    </SheetDialog>
  );
}

function withEntry<T>(before: Record<string, T>, key: string, value: T | null): Record<string, T> {
  const after = { ...before };
  if (value === null) delete after[key];
  else after[key] = value;
  return after;
}

type RangeRowProps = {
  name: string;
  range: { least: number; most: number } | undefined;
  plain: { least: number; most: number };
  change: (range: { least: number; most: number } | null) => void;
};

function RangeRow({ name, range, plain, change }: RangeRowProps) {
  return (
    <div className="generate-field">
      <label className="form-check">
        <input
          type="checkbox"
          checked={range !== undefined}
          onChange={(event) => change(event.target.checked ? plain : null)}
        />
        {name}
      </label>
      {range && (
        <>
          <input
            type="number"
            className="input num-input"
            aria-label={`${name} from`}
            value={range.least}
            onChange={(event) => change({ ...range, least: Number(event.target.value) })}
          />
          to
          <input
            type="number"
            className="input num-input"
            aria-label={`${name} to`}
            value={range.most}
            onChange={(event) => change({ ...range, most: Number(event.target.value) })}
          />
        </>
      )}
    </div>
  );
}

type PickRowProps = {
  name: string;
  values: { id: string; name: string }[];
  picked: string[] | undefined;
  change: (values: string[] | null) => void;
};

function PickRow({ name, values, picked, change }: PickRowProps) {
  return (
    <div className="generate-field">
      <label className="form-check">
        <input
          type="checkbox"
          checked={picked !== undefined}
          onChange={(event) => change(event.target.checked ? values.map((value) => value.id) : null)}
        />
        {name}
      </label>
      {picked &&
        values.slice(0, 24).map((value) => (
          <label key={value.id} className="form-check">
            <input
              type="checkbox"
              checked={picked.includes(value.id)}
              onChange={(event) =>
                change(event.target.checked ? [...picked, value.id] : picked.filter((each) => each !== value.id))
              }
            />
            {value.name}
          </label>
        ))}
    </div>
  );
}

type CountingProps = { label: string; value: number; change: (value: number) => void; min?: number; max?: number };

function Counting({ label, value, change, min, max }: CountingProps) {
  return (
    <label>
      {label}
      <input
        type="number"
        className="input num-input"
        min={min}
        max={max}
        value={value}
        onChange={(event) => change(Number(event.target.value))}
      />
    </label>
  );
}
