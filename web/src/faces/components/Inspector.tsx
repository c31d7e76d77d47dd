// The properties of the selected placement, or the common ones of several.
import {
  AlignCenterHorizontal,
  AlignCenterVertical,
  AlignEndHorizontal,
  AlignEndVertical,
  AlignHorizontalSpaceAround,
  AlignStartHorizontal,
  AlignStartVertical,
  AlignVerticalSpaceAround,
  ArrowDownToLine,
  ArrowUpToLine,
  RotateCcw,
  Trash2,
} from "lucide-react";
import { memo } from "react";
import { useGame } from "../../state/store";
import { Picking, Ticking, Typing } from "../../ui/Typing";
import { KINDS, type Prop, TEXT, WORDED } from "../placementProperties";
import { type Book, type How, nameOf, type Patch, type Place, type Plan } from "../usePlans";
import { ChoiceOverrides } from "./ChoiceOverrides";
import { Colour, Figure } from "./inputs";

type Props = {
  book: Book;
  plan: Plan;
  places: Place[];
  look: (patches: Record<string, Patch> | null) => void;
  write: (patches: Record<string, Patch>) => void;
  align: (how: How) => void;
  stack: (way: "front" | "behind") => void;
  takeOut: () => void;
};

export const Inspector = memo(function Inspector({ book, plan, places, look, write, align, stack, takeOut }: Props) {
  const [one] = places;
  if (!one) return null;
  const ids = places.map((place) => place.id);
  const lone = places.length === 1;
  const each = (patch: Record<string, unknown>) => Object.fromEntries(ids.map((id) => [id, patch]));
  const kind = String(one.full.kind ?? one.doc.kind ?? "");
  const own = lone && !one.inherited && one.own.length > 0;
  const overruled = lone && one.inherited && one.own.length > 0;
  const isBase = !plan.head.type && !plan.head.variant;
  return (
    <div className="inspector">
      <div className="inspector-head">
        {lone ? (
          <Typing
            label="Name"
            hidden
            value={nameOf(one)}
            commit={(name) => write(each({ name }))}
            className="inspector-name"
          />
        ) : (
          <h2>{places.length} placements</h2>
        )}
        <p className="soft">
          {lone && (KINDS[kind]?.name ?? kind)}
          {lone && one.inherited && !isBase && (overruled ? " · inherited, changed here" : " · inherited")}
          {lone && own && !isBase && " · of this plan"}
        </p>
      </div>
      <Arranging align={align} stack={stack} many={places.length} />
      <div className="inspector-acts">
        <button
          type="button"
          className="small-button"
          aria-pressed={Boolean(one.full.off)}
          onClick={() => write(each({ off: !one.full.off }))}
        >
          {one.full.off ? "Switch on" : "Switch off"}
        </button>
        {overruled && (
          <button
            type="button"
            className="small-button"
            title="As the plan beneath says"
            onClick={() => write({ [one.id]: null })}
          >
            <RotateCcw size={12} aria-hidden="true" /> Reset
          </button>
        )}
        <button
          type="button"
          className="small-button"
          onClick={takeOut}
          title="Remove it from the plan; undo brings it back"
        >
          <Trash2 size={12} aria-hidden="true" /> Remove
        </button>
      </div>
      {lone && <Where place={one} unit={plan.size.unit ?? "mm"} look={look} write={write} />}
      {lone && (
        <section className="inspector-part" aria-label="What it shows">
          <h3>{KINDS[kind]?.name ?? "Placement"}</h3>
          <PropList
            book={book}
            place={one}
            props={KINDS[kind]?.props ?? []}
            unit={plan.size.unit ?? "mm"}
            look={look}
            write={write}
          />
          {kind === "edges" && <EdgeFields place={one} write={write} />}
        </section>
      )}
      {places.every(
        (place) =>
          (place.full.kind !== "choice" || place.full.shown === "words") && WORDED.includes(String(place.full.kind)),
      ) && (
        <section className="inspector-part" aria-label="Text">
          <h3>Text</h3>
          <Picking
            label="Style"
            value={String(one.full.style ?? "")}
            options={[
              ["", "its own"],
              ...book.styles.map((style) => [style.id, String(style.doc.name ?? style.id)] as const),
            ]}
            commit={(style) =>
              write(each({ style, ...Object.fromEntries(TEXT.map((prop) => [prop.key, style ? null : undefined])) }))
            }
          />
          <PropList
            book={book}
            place={one}
            props={TEXT}
            unit={plan.size.unit ?? "mm"}
            look={look}
            write={write}
            ids={ids}
          />
        </section>
      )}
      {lone && (
        <section className="inspector-part" aria-label="When it is shown">
          <h3>Shown when</h3>
          <Typing
            label="Condition"
            hidden
            value={String(one.full.when ?? "")}
            placeholder="always, or such as: cost >= 4"
            commit={(when) => write(each({ when }))}
          />
          {plan.problems
            .filter((problem) => problem.where === nameOf(one))
            .map((problem) => (
              <p key={problem.what} className="needs inspector-said">
                {problem.what}; {problem.mend}
              </p>
            ))}
        </section>
      )}
      {lone && <ChoiceOverrides place={one} write={write} />}
    </div>
  );
});

const HOWS: [How, string, typeof AlignStartVertical][] = [
  ["left", "Align left", AlignStartVertical],
  ["centre", "Align centres across", AlignCenterVertical],
  ["right", "Align right", AlignEndVertical],
  ["top", "Align top", AlignStartHorizontal],
  ["middle", "Align middles", AlignCenterHorizontal],
  ["bottom", "Align bottom", AlignEndHorizontal],
  ["across", "Distribute across", AlignHorizontalSpaceAround],
  ["down", "Distribute down", AlignVerticalSpaceAround],
];

function Arranging({
  align,
  stack,
  many,
}: {
  align: (how: How) => void;
  stack: (way: "front" | "behind") => void;
  many: number;
}) {
  return (
    <div className="arranging" role="toolbar" aria-label="Arrange">
      {HOWS.map(([how, label, Icon]) => (
        <button
          key={how}
          type="button"
          className="icon-button"
          title={many === 1 && how !== "across" && how !== "down" ? `${label}, on the card` : label}
          aria-label={label}
          disabled={(how === "across" || how === "down") && many < 3}
          onClick={() => align(how)}
        >
          <Icon size={15} aria-hidden="true" />
        </button>
      ))}
      <button
        type="button"
        className="icon-button"
        title="Bring to the front"
        aria-label="Bring to the front"
        onClick={() => stack("front")}
      >
        <ArrowUpToLine size={15} aria-hidden="true" />
      </button>
      <button
        type="button"
        className="icon-button"
        title="Send behind all"
        aria-label="Send behind all"
        onClick={() => stack("behind")}
      >
        <ArrowDownToLine size={15} aria-hidden="true" />
      </button>
    </div>
  );
}

type WhereProps = {
  place: Place;
  unit: string;
  look: (patches: Record<string, Patch> | null) => void;
  write: (patches: Record<string, Patch>) => void;
};

function Where({ place, unit, look, write }: WhereProps) {
  const figure = (key: string, label: string) => (
    <Figure
      key={key}
      label={label}
      unit={unit}
      value={Number(place.full[key] ?? 0)}
      step={unit === "in" ? 0.02 : 0.5}
      look={(value) => look(value === null ? null : { [place.id]: { [key]: value } })}
      commit={(value) => write({ [place.id]: { [key]: value } })}
    />
  );
  return (
    <section className="inspector-part inspector-figures" aria-label="Place and size">
      {figure("x", "From left")}
      {figure("y", "From top")}
      {figure("width", "Wide")}
      {figure("height", "High")}
      <Picking
        label="Turned"
        value={String(place.full.turn ?? 0)}
        options={[
          ["0", "upright"],
          ["90", "90° right"],
          ["180", "upside down"],
          ["270", "90° left"],
        ]}
        commit={(turn) => write({ [place.id]: { turn: Number(turn) } })}
      />
    </section>
  );
}

type PropListProps = {
  book: Book;
  place: Place;
  props: readonly Prop[];
  unit: string;
  look: (patches: Record<string, Patch> | null) => void;
  write: (patches: Record<string, Patch>) => void;
  ids?: string[];
};

function PropList({ book, place, props, unit, look, write, ids = [place.id] }: PropListProps) {
  const game = useGame((state) => state.game);
  const put = (key: string, value: unknown) => write(Object.fromEntries(ids.map((id) => [id, { [key]: value }])));
  const see = (key: string, value: unknown) =>
    look(value === null ? null : Object.fromEntries(ids.map((id) => [id, { [key]: value }])));
  return (
    <div className="prop-list">
      {props
        .filter((prop) => says(prop, place))
        .map((prop) => {
          const value = place.full[prop.key];
          switch (prop.as) {
            case "mm":
            case "em":
            case "number":
            case "share":
              return (
                <Figure
                  key={prop.key}
                  label={prop.label}
                  unit={prop.as === "mm" ? unit : prop.as === "em" ? "mm" : ""}
                  step={prop.step ?? 0.5}
                  value={Number(value ?? 0)}
                  look={(next) => see(prop.key, next)}
                  commit={(next) => put(prop.key, next)}
                />
              );
            case "colour":
              return (
                <Colour
                  key={prop.key}
                  label={prop.label}
                  value={String(value ?? "")}
                  none={prop.none ?? false}
                  back={prop.back ?? false}
                  commit={(next) => put(prop.key, next)}
                />
              );
            case "choice":
              return (
                <Picking
                  key={prop.key}
                  label={prop.label}
                  value={String(value ?? "")}
                  options={prop.options}
                  commit={(next) => put(prop.key, next)}
                />
              );
            case "tick":
              return (
                <Ticking
                  key={prop.key}
                  label={prop.label}
                  value={Boolean(value)}
                  commit={(next) => put(prop.key, next)}
                />
              );
            case "text":
              return (
                <Typing
                  key={prop.key}
                  label={prop.label}
                  value={String(value ?? "")}
                  commit={(next) => put(prop.key, next)}
                />
              );
            case "symbol":
              return (
                <Picking
                  key={prop.key}
                  label={prop.label}
                  value={String(value ?? "")}
                  options={[
                    ["", "the field's own"],
                    ...(game?.own_symbols ?? []).map(({ id, name }) => [id, name] as const),
                    ...Object.keys(book.symbols).map((name) => [name, name] as const),
                  ]}
                  commit={(next) => put(prop.key, next)}
                />
              );
            case "field": {
              const fields = (game?.fields ?? []).filter((field) => !prop.kinds || prop.kinds.includes(field.kind));
              const options: (readonly [string, string])[] = fields.map((field) => [field.id, field.name] as const);
              if (prop.beside) options.push(...BESIDE);
              if (prop.none) options.unshift(["", prop.none]);
              const now = String(value ?? "");
              if (!options.some(([id]) => id === now)) options.unshift([now, `${now || "nothing"} (gone)`]);
              return (
                <Picking
                  key={prop.key}
                  label={prop.label}
                  value={now}
                  options={options}
                  commit={(next) => put(prop.key, next)}
                />
              );
            }
          }
          return null;
        })}
    </div>
  );
}

/** Whether a key says anything as things are. `true` among the values stands for any. */
function says(prop: Prop, place: Place): boolean {
  if (!prop.only) return true;
  const [key, ...values] = prop.only;
  const now = place.full[key];
  return values.includes(true) ? Boolean(now) : values.includes(now);
}

export const BESIDE: (readonly [string, string])[] = [
  ["code", "the code"],
  ["type", "the card type"],
  ["set", "the set"],
  ["game", "the game's name"],
  ["back", "the back's title"],
];

const EDGE_NAMES = ["top", "second", "third", "fourth", "fifth", "sixth"];

/** Which field stands at which edge, clockwise from the top. */
function EdgeFields({ place, write }: { place: Place; write: (patches: Record<string, Patch>) => void }) {
  const fields = useGame((state) => state.game?.fields ?? []);
  const now = (place.full.fields as string[] | undefined) ?? [];
  return (
    <div className="prop-list">
      {EDGE_NAMES.map((edge, at) => (
        <Picking
          key={edge}
          label={`Edge, ${edge}`}
          value={now[at] ?? ""}
          options={[["", "nothing"], ...fields.map((field) => [field.id, field.name] as const), ...BESIDE]}
          commit={(field) => {
            const next = EDGE_NAMES.map((_, index) => (index === at ? field : (now[index] ?? "")));
            while (next.length && !next[next.length - 1]) next.pop();
            write({ [place.id]: { fields: next } });
          }}
        />
      ))}
    </div>
  );
}
