// What a legal deck is. The first of several is what decks are held against.
import { useGame } from "../state/store";
import { Counting, Typing } from "../ui/Typing";
import { freeId } from "./ResourcesEditor";
import type { FormatDoc, Write } from "./useParts";

export function DeckRules({ formats, write }: { formats: FormatDoc[]; write: Write }) {
  const game = useGame((state) => state.game);
  const rarity = game?.fields.find((field) => field.id === game.roles.rarity);
  const rarities =
    rarity && "list" in rarity ? (game?.lists.find((list) => list.id === rarity.list)?.values ?? []) : [];
  const put = (at: number, part: Partial<FormatDoc>) =>
    void write(
      "formats",
      formats.map((each, place) => (place === at ? { ...each, ...part } : each)),
    );
  const add = () => {
    const first = formats[0];
    if (first)
      void write("formats", [...formats, { ...first, id: freeId("deck-rules", formats), name: "Other deck rules" }]);
  };
  return (
    <>
      <p className="soft">Decks that break a rule stay as they are, and say what is wrong with them.</p>
      {formats.map((each, at) => (
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
            <Counting
              label="Most factions"
              none="any"
              value={each.most_factions}
              commit={(most_factions) => put(at, { most_factions })}
            />
          </div>
          {rarities.length > 0 && (
            <div className="form form-row">
              {rarities.map((value) => (
                <Counting
                  key={value.id}
                  label={`Copies: ${value.name}`}
                  none={String(each.copies)}
                  value={each.copies_by_rarity[value.id] ?? null}
                  commit={(count) => {
                    const { [value.id]: _, ...rest } = each.copies_by_rarity;
                    put(at, { copies_by_rarity: count === null ? rest : { ...rest, [value.id]: count } });
                  }}
                />
              ))}
            </div>
          )}
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
      ))}
      <div className="form-row deck-rules">
        <button type="button" className="button" onClick={add}>
          Other deck rules
        </button>
        <span className="soft">Decks are held against the first; the others wait.</span>
      </div>
    </>
  );
}
