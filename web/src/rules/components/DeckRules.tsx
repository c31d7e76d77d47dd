// Deck rules. A deck is checked against the rules that it names, or the first ones.
import type { Schemas } from "../../state/client";
import { freeName } from "../../state/names";
import { useGame } from "../../state/store";
import { counted } from "../../ui/plural";
import { Counting, Picking, Ticking, Typing } from "../../ui/Typing";
import { freeId } from "../ids";
import type { ClashDoc, FormatDoc, Write } from "../useParts";
import { CardPicker } from "./CardPicker";

type Share = Schemas["Share"];
type Props = { formats: FormatDoc[]; clashes: ClashDoc[]; write: Write };

export function DeckRules({ formats, clashes, write }: Props) {
  const game = useGame((state) => state.game);
  const decks = useGame((state) => state.decks);
  if (!game) return null;
  const valuesOf = (id: string | null | undefined) => {
    const field = game.fields.find((each) => each.id === id);
    return field && "list" in field ? (game.lists.find((list) => list.id === field.list)?.values ?? []) : [];
  };
  const rarities = valuesOf(game.roles.rarity);
  const factions = valuesOf(game.roles.faction);
  const factionName = game.fields.find((each) => each.id === game.roles.faction)?.name ?? "Faction";
  const put = (at: number, part: Partial<FormatDoc>) =>
    void write(
      "formats",
      formats.map((each, place) => (place === at ? { ...each, ...part } : each)),
    );
  const add = () => {
    const first = formats[0];
    if (!first) return;
    const name = freeName(
      "Other deck rules",
      formats.map((each) => each.name),
    );
    void write("formats", [...formats, { ...first, id: freeId("deck-rules", formats), name }]);
  };
  return (
    <>
      <p className="soft">Decks that break a rule stay as they are, and say what is wrong with them.</p>
      {formats.map((each, at) => {
        const using = decks.filter((deck) => deck.format === each.id).length;
        return (
          <section key={each.id} className="deck-rules" aria-label={each.name}>
            <div className="form form-row">
              <Typing label="Name" value={each.name} commit={(name) => put(at, { name })} />
              <Counting
                label="Least cards"
                value={each.least_cards}
                commit={(least_cards) => put(at, { least_cards: least_cards ?? each.least_cards })}
              />
              <Counting
                label="Most cards"
                value={each.most_cards}
                commit={(most_cards) => put(at, { most_cards: most_cards ?? each.most_cards })}
              />
              <Counting
                label="Copies of a card"
                value={each.copies}
                commit={(copies) => put(at, { copies: copies ?? each.copies })}
              />
              {factions.length > 0 && (
                <Counting
                  label={`Different: ${factionName}`}
                  none="any"
                  value={each.most_factions ?? null}
                  commit={(most_factions) => put(at, { most_factions })}
                />
              )}
              <span className="soft deck-rules-used">
                {counted(using, "deck")}
                {at === 0 ? ", and all new ones" : ""}
              </span>
            </div>
            {clashes
              .filter((clash) => clash.format === each.id)
              .map((clash) => (
                <p key={clash.problem.what} className="needs" role="alert">
                  No deck can be legal: {clash.problem.what} — {clash.problem.mend}.
                </p>
              ))}
            {rarities.length > 0 && (
              <div className="form form-row">
                {rarities.map((value) => (
                  <Counting
                    key={value.id}
                    label={`Copies: ${value.name}`}
                    none={String(each.copies)}
                    value={each.copies_by_rarity?.[value.id] ?? null}
                    commit={(count) =>
                      put(at, { copies_by_rarity: withOne(each.copies_by_rarity ?? {}, value.id, count) })
                    }
                  />
                ))}
              </div>
            )}
            <details className="deck-rules-more" open={hasMore(each)}>
              <summary>Sections, types, sums, banned and limited cards</summary>
              <Sections format={each} put={(part) => put(at, part)} />
              <Shares
                title="Types"
                kinds={game.types.map((type) => [type.id, type.name] as const)}
                shares={each.types}
                put={(types) => put(at, { types })}
              />
              {factions.length > 0 && (
                <>
                  <Shares
                    title={factionName}
                    kinds={factions.map((value) => [value.id, value.name] as const)}
                    shares={each.factions}
                    put={(held) => put(at, { factions: held })}
                  />
                  {each.most_factions !== null && each.most_factions !== undefined && (
                    <div className="form form-row">
                      <span>Mixes with all:</span>
                      {factions.map((value) => (
                        <Ticking
                          key={value.id}
                          label={value.name}
                          value={(each.free_factions ?? []).includes(value.id)}
                          commit={(on) => put(at, { free_factions: toggled(each.free_factions ?? [], value.id, on) })}
                        />
                      ))}
                    </div>
                  )}
                </>
              )}
              <Sums format={each} put={(part) => put(at, part)} />
              {game.sets.length > 1 && (
                <div className="form form-row">
                  <span>Sets allowed{(each.sets ?? []).length ? ":" : " (all):"}</span>
                  {game.sets.map((set) => (
                    <Ticking
                      key={set.id}
                      label={set.name}
                      value={(each.sets ?? []).includes(set.id)}
                      commit={(on) => put(at, { sets: toggled(each.sets ?? [], set.id, on) })}
                    />
                  ))}
                </div>
              )}
              <CardPicker
                label="Banned cards"
                cards={Object.fromEntries((each.banned ?? []).map((id) => [id, 0]))}
                put={(held) => put(at, { banned: Object.keys(held) })}
              />
              <CardPicker
                label="Limited cards"
                counted
                cards={each.limited ?? {}}
                put={(limited) => put(at, { limited })}
              />
            </details>
            {formats.length > 1 && (
              <button
                type="button"
                className="small-button"
                onClick={() =>
                  void write(
                    "formats",
                    formats.filter((_, place) => place !== at),
                  )
                }
              >
                Remove {each.name}
              </button>
            )}
          </section>
        );
      })}
      <div className="form-row deck-rules">
        <button type="button" className="button" onClick={add}>
          Other deck rules
        </button>
        <span className="soft">Each deck chooses its deck rules, in Decks.</span>
      </div>
    </>
  );
}

type PartProps = { format: FormatDoc; put: (part: Partial<FormatDoc>) => void };

/** Parts of a deck beside the main one. */
function Sections({ format, put }: PartProps) {
  const game = useGame((state) => state.game);
  const sections = format.sections ?? [];
  const set = (at: number, part: Partial<(typeof sections)[number]>) =>
    put({ sections: sections.map((each, place) => (place === at ? { ...each, ...part } : each)) });
  return (
    <fieldset className="deck-rules-part">
      <legend>Sections</legend>
      <div className="form form-row">
        <Typing label="What is drawn from" value={format.main ?? "Main"} commit={(main) => put({ main })} />
      </div>
      {sections.map((each, at) => (
        <div key={each.id} className="form form-row">
          <Typing label="Section" value={each.name} commit={(name) => set(at, { name })} />
          <Counting label="Least" value={each.least ?? 0} commit={(least) => set(at, { least: least ?? 0 })} />
          <Counting label="Most" none="any" value={each.most ?? null} commit={(most) => set(at, { most })} />
          {(game?.types ?? []).length > 1 && (
            <span className="deck-holds">
              <span>Holds{each.types.length ? ":" : " every type"}</span>
              {game?.types.map((type) => (
                <Ticking
                  key={type.id}
                  label={type.name}
                  value={each.types.includes(type.id)}
                  commit={(on) => set(at, { types: toggled(each.types, type.id, on) })}
                />
              ))}
            </span>
          )}
          <Ticking
            label="copies count with the rest"
            value={each.counted ?? true}
            commit={(counted) => set(at, { counted })}
          />
          <button
            type="button"
            className="small-button"
            onClick={() => put({ sections: sections.filter((_, place) => place !== at) })}
          >
            Remove {each.name}
          </button>
        </div>
      ))}
      <button
        type="button"
        className="small-button"
        onClick={() => {
          const name = freeName("Side", [format.main, ...sections.map((each) => each.name)]);
          put({
            sections: [
              ...sections,
              { id: freeId("side", sections), name, least: 0, most: 10, types: [], counted: true },
            ],
          });
        }}
      >
        Another section
      </button>
    </fieldset>
  );
}

type SharesProps = {
  title: string;
  kinds: (readonly [string, string])[];
  shares: Record<string, Share>;
  put: (shares: Record<string, Share>) => void;
};

/** How many of each kind there must and may be. */
function Shares({ title, kinds, shares, put }: SharesProps) {
  const set = (id: string, part: Partial<Share>) => {
    const next = { least: 0, most: null, ...shares[id], ...part };
    put(withOne(shares, id, next.least === 0 && next.most === null ? null : next));
  };
  return (
    <fieldset className="deck-rules-part">
      <legend>{title}</legend>
      <div className="form form-row">
        {kinds.map(([id, name]) => (
          <span key={id} className="deck-share">
            <Counting
              label={`${name}: least`}
              none="0"
              value={shares[id]?.least || null}
              commit={(least) => set(id, { least: least ?? 0 })}
            />
            <Counting label="most" none="any" value={shares[id]?.most ?? null} commit={(most) => set(id, { most })} />
          </span>
        ))}
      </div>
    </fieldset>
  );
}

/** Bounds of the sums of number fields. */
function Sums({ format, put }: PartProps) {
  const game = useGame((state) => state.game);
  const caps = format.caps ?? [];
  const numbers = (game?.fields ?? []).filter((each) => each.kind === "number");
  if (!numbers.length) return null;
  const set = (at: number, part: Partial<(typeof caps)[number]>) =>
    put({ caps: caps.map((each, place) => (place === at ? { ...each, ...part } : each)) });
  return (
    <fieldset className="deck-rules-part">
      <legend>Sums over the deck</legend>
      {caps.map((each, at) => (
        <div key={`${at} ${each.field}`} className="form form-row">
          <Picking
            label="Sum of"
            value={each.field}
            options={numbers.map((field) => [field.id, field.name] as const)}
            commit={(field) => set(at, { field })}
          />
          <Counting label="Least" none="any" value={each.least ?? null} commit={(least) => set(at, { least })} />
          <Counting label="Most" none="any" value={each.most ?? null} commit={(most) => set(at, { most })} />
          <button
            type="button"
            className="small-button"
            onClick={() => put({ caps: caps.filter((_, place) => place !== at) })}
          >
            Remove this sum
          </button>
        </div>
      ))}
      <button
        type="button"
        className="small-button"
        onClick={() => put({ caps: [...caps, { field: numbers[0]?.id ?? "", least: null, most: null }] })}
      >
        Another sum
      </button>
    </fieldset>
  );
}

const toggled = (held: string[], id: string, on: boolean): string[] =>
  on ? [...held.filter((each) => each !== id), id] : held.filter((each) => each !== id);

function withOne<Value>(held: Record<string, Value>, id: string, value: Value | null): Record<string, Value> {
  const { [id]: _, ...rest } = held;
  return value === null ? rest : { ...rest, [id]: value };
}

/** Rules that go beyond size and copies are in sight at once. */
const hasMore = (each: FormatDoc): boolean =>
  Boolean(
    each.sections?.length ||
      each.caps?.length ||
      each.banned?.length ||
      each.sets?.length ||
      Object.keys(each.limited ?? {}).length ||
      Object.keys(each.types).length ||
      Object.keys(each.factions).length,
  );
