// What a legal deck is. The first of several is what decks are held against.
import { useGame } from "../state/store";
import { Typing } from "../ui/Typing";
import { freeId } from "./ResourcesEditor";
import { type FormatDoc, type Write, whole, wholeOrNone } from "./useParts";

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
            <Typing
              label="Least cards"
              number
              value={String(each.least_cards)}
              commit={(text) => put(at, { least_cards: whole(text, each.least_cards) })}
            />
            <Typing
              label="Most cards"
              number
              value={String(each.most_cards)}
              commit={(text) => put(at, { most_cards: whole(text, each.most_cards) })}
            />
            <Typing
              label="Copies of a card"
              number
              value={String(each.copies)}
              commit={(text) => put(at, { copies: whole(text, each.copies) })}
            />
            <Typing
              label="Most factions"
              number
              placeholder="any"
              value={each.most_factions === null ? "" : String(each.most_factions)}
              commit={(text) => put(at, { most_factions: wholeOrNone(text, each.most_factions) })}
            />
          </div>
          {rarities.length > 0 && (
            <div className="form form-row">
              {rarities.map((value) => (
                <Typing
                  key={value.id}
                  label={`Copies: ${value.name}`}
                  number
                  placeholder={String(each.copies)}
                  value={each.copies_by_rarity[value.id] === undefined ? "" : String(each.copies_by_rarity[value.id])}
                  commit={(text) => {
                    const copies = { ...each.copies_by_rarity };
                    if (text.trim()) copies[value.id] = whole(text, copies[value.id] ?? each.copies);
                    else delete copies[value.id];
                    put(at, { copies_by_rarity: copies });
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
