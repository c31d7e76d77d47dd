// Table sheets: the cells of each sheet, within the limits of a virtual table.

import { LayoutGrid } from "lucide-react";
import { useMemo, useState } from "react";
import { Link } from "react-router";
import type { Schemas } from "../../state/client";
import { useAsked, useTouched } from "../../state/query";
import { useGame } from "../../state/store";
import { Face } from "../../ui/Face";
import { counted } from "../../ui/plural";
import { Picking, Ticking } from "../../ui/Typing";
import * as requests from "../api";
import { type Jobs, type OnPaper, type SheetOrder, useChoice, useLook, useSettings } from "../useOutput";
import { AmountInput } from "./AmountInput";
import { ChoiceForm } from "./ChoiceForm";
import { Summary } from "./Summary";

type Props = { work: Jobs; paper: OnPaper | null; side: React.ReactNode };

export function SheetsPart({ work, paper, side }: Props) {
  const game = useGame((state) => state.game?.id ?? "");
  const allDecks = useGame((state) => state.decks);
  const [choice, put] = useChoice();
  const [settings, change] = useSettings("sheets", work.jobs);
  const decks = useMemo(
    () => choice.deck.split(",").filter((id) => allDecks.some((deck) => deck.id === id)),
    [choice.deck, allDecks],
  );
  const order: SheetOrder = useMemo(
    () => ({ ...settings, choice: { ...choice, deck: "" }, decks }),
    [settings, choice, decks],
  );
  const [sheet, setSheet] = useState(0);
  const path = { params: { path: { game_id: game } } };
  const { found, trouble } = useLook(() => requests.lookAtSheets({ ...path, body: order }), order);
  const touched = useTouched("layout");
  const tables = useAsked<Schemas["LayoutsOut"]>(() => requests.layouts(path), [game, touched]).found;
  const setLimits = (part: Partial<SheetOrder["limits"]>) => change({ limits: { ...settings.limits, ...part } });
  const shown = found?.sheets[Math.min(sheet, found.sheets.length - 1)];
  return (
    <>
      <section id="output-part" className="order" aria-label="Which table sheets">
        <fieldset className="order-part">
          <legend>Decks</legend>
          <div className="order-decks">
            {allDecks.map((deck) => (
              <Ticking
                key={deck.id}
                label={deck.name}
                value={decks.includes(deck.id)}
                commit={(on) =>
                  put({ deck: (on ? [...decks, deck.id] : decks.filter((each) => each !== deck.id)).join(",") })
                }
              />
            ))}
            {!decks.length && <p className="soft">Without a deck, the cards below.</p>}
          </div>
        </fieldset>
        <ChoiceForm choice={choice} put={put} paper={paper} decksElsewhere withCopies={!decks.length} />
        <fieldset className="order-part">
          <legend>Sheets</legend>
          <Picking
            label="Made as"
            value={settings.single ? "single" : settings.each_copy ? "copies" : "once"}
            options={[
              ["copies", "a cell for each copy"],
              ["once", "a cell for each card"],
              ["single", "single cards"],
            ]}
            commit={(how) => change({ single: how === "single", each_copy: how !== "once" })}
          />
          <Picking
            label="Backs"
            value={settings.backs}
            options={[
              ["one", "one for the sheet"],
              ["each", "one for each card"],
              ["none", "no backs"],
            ]}
            commit={(backs) => change({ backs: backs as SheetOrder["backs"] })}
          />
          <Picking
            label="Hidden face"
            value={settings.hidden}
            options={[
              ["last", "in the last place"],
              ["apart", "in its own file"],
              ["none", "none"],
            ]}
            commit={(hidden) => change({ hidden: hidden as SheetOrder["hidden"] })}
          />
          <div className="order-pair">
            <Picking
              label="Format"
              value={settings.form}
              options={[
                ["jpeg", "JPEG"],
                ["png", "PNG"],
              ]}
              commit={(form) => change({ form: form as SheetOrder["form"] })}
            />
            <Picking
              label="Corners"
              value={settings.extent}
              options={[
                ["square", "filled"],
                ["cut", "as cut"],
                ["bleed", "with bleed"],
              ]}
              commit={(extent) => change({ extent: extent as SheetOrder["extent"] })}
            />
          </div>
        </fieldset>
        <fieldset className="order-part">
          <legend>Limits of the virtual table</legend>
          <div className="order-pair">
            <AmountInput
              label="Cell width, px"
              value={settings.width}
              least={32}
              most={4096}
              commit={(width) => change({ width })}
            />
            <AmountInput
              label="Longest side, px"
              value={settings.limits.side}
              least={64}
              most={16384}
              commit={(side) => setLimits({ side })}
            />
          </div>
          <div className="order-pair">
            <AmountInput
              label="Most columns"
              value={settings.limits.columns}
              least={1}
              most={60}
              commit={(columns) => setLimits({ columns })}
            />
            <AmountInput
              label="Most rows"
              value={settings.limits.rows}
              least={1}
              most={60}
              commit={(rows) => setLimits({ rows })}
            />
          </div>
          <div className="order-pair">
            <AmountInput
              label="Largest file, MB"
              value={settings.megabytes}
              least={0.05}
              most={200}
              digits={2}
              commit={(megabytes) => change({ megabytes })}
            />
            <Picking
              label="Text table"
              value={settings.table}
              options={[
                ["", "where each is"],
                ...(tables?.layouts.map(({ id, table }) => [id, table.name] as const) ?? []),
              ]}
              commit={(table) => change({ table })}
            />
          </div>
          <p className="soft">
            Columns, order and separators of text tables are laid out in{" "}
            <Link to={`/${game}/files?part=out`}>Files</Link>.
          </p>
        </fieldset>
      </section>
      <section className="sheets-stage mat" aria-label="Sheets">
        {found && (
          <div className="page-tools sheet-tabs">
            {found.sheets.slice(0, 60).map((each, place) => (
              <button
                key={each.file}
                type="button"
                className="mat-button"
                aria-pressed={each === shown}
                onClick={() => setSheet(place)}
                title={each.file}
              >
                {found.sheets.length > 1 ? place + 1 : "1 sheet"}
              </button>
            ))}
          </div>
        )}
        {shown && <SheetView sheet={shown} square={settings.extent !== "cut"} />}
      </section>
      <aside className="output-side" aria-label="What will be made">
        <Summary
          title={
            found && !trouble
              ? settings.single
                ? counted(found.sheets.length, "single card")
                : `${counted(found.cells, "cell")} on ${counted(found.sheets.length, "sheet")}`
              : trouble
                ? "No table sheet to make yet"
                : "Finding the grids…"
          }
          more={shown && !settings.single ? [sheetSaid(shown)] : []}
          warnings={found?.warnings ?? []}
          trouble={trouble}
          make={{
            icon: LayoutGrid,
            label: "Make the table sheets",
            ready: !!found,
            act: () => void work.begin("sheets", order),
          }}
        />
        {side}
      </aside>
    </>
  );
}

type Sheet = Schemas["SheetLook"];

const sheetSaid = (sheet: Sheet): string =>
  `${sheet.columns} × ${sheet.rows} cells of ${sheet.cell.width} × ${sheet.cell.height} pixels, ${sheet.size.width} × ${sheet.size.height} in all`;

function SheetView({ sheet, square }: { sheet: Sheet; square: boolean }) {
  const cards = useGame((state) => state.cards);
  const cells = sheet.columns * sheet.rows;
  const shape = sheet.size.width / sheet.size.height;
  return (
    <figure className="sheet-figure">
      <div
        className={`sheet-grid ${square ? "sheet-square" : ""}`}
        style={{
          gridTemplateColumns: `repeat(${sheet.columns}, 1fr)`,
          aspectRatio: `${sheet.size.width} / ${sheet.size.height}`,
          width: `min(100%, calc((100vh - 230px) * ${shape}))`,
        }}
      >
        {Array.from({ length: cells }, (_, place) => {
          const card = sheet.cards[place];
          const hidden = sheet.hidden && place === cells - 1;
          return (
            <div key={place} className={`sheet-cell ${card ? "" : hidden ? "sheet-hidden" : "sheet-empty"}`}>
              {card ? <Face card={card} title={cards[card]?.title ?? card} /> : hidden ? "hidden face" : null}
            </div>
          );
        })}
      </div>
      <figcaption>{sheet.file}</figcaption>
    </figure>
  );
}
