// Card pictures: format, size, file names.

import { Images } from "lucide-react";
import { useMemo } from "react";
import type { Schemas } from "../../state/client";
import { useGame } from "../../state/store";
import { Face } from "../../ui/Face";
import { counted } from "../../ui/plural";
import { Picking, Typing } from "../../ui/Typing";
import * as requests from "../api";
import { type Jobs, type OnPaper, type PictureOrder, useChoice, useLook, useSettings } from "../useOutput";
import { AmountInput } from "./AmountInput";
import { ChoiceForm } from "./ChoiceForm";
import { Summary } from "./Summary";

type Props = { work: Jobs; paper: OnPaper | null; words: Schemas["WordOut"][]; side: React.ReactNode };
const SIZES = [
  ["dpi", "dots an inch"],
  ["width", "pixels wide"],
  ["height", "pixels high"],
] as const;
const USUAL = { dpi: 300, width: 750, height: 1050 };

export function CardPicturesPart({ work, paper, words, side }: Props) {
  const game = useGame((state) => state.game?.id ?? "");
  const cards = useGame((state) => state.cards);
  const [choice, put] = useChoice();
  const [settings, change] = useSettings("pictures", work.jobs);
  const order: PictureOrder = useMemo(() => ({ ...settings, choice: { ...choice, copies: null } }), [settings, choice]);
  const by = settings.width != null ? "width" : settings.height != null ? "height" : "dpi";
  const { found, trouble } = useLook(
    () => requests.lookAtPictures({ params: { path: { game_id: game } }, body: order }),
    order,
  );
  const setSize = (how: keyof typeof USUAL, value: number) =>
    change({ dpi: null, width: null, height: null, [how]: value });
  const sizes = [...new Set(found?.first.map((each) => `${each.width} × ${each.height} pixels`))];
  return (
    <>
      <section id="output-part" className="order" aria-label="Which pictures">
        <ChoiceForm choice={choice} put={put} paper={paper} />
        <fieldset className="order-part">
          <legend>Pictures</legend>
          <div className="order-pair">
            <Picking
              label="Format"
              value={settings.form}
              options={[
                ["png", "PNG"],
                ["jpeg", "JPEG"],
                ["svg", "SVG"],
              ]}
              commit={(form) => change({ form: form as PictureOrder["form"] })}
            />
            <Picking
              label="Sides"
              value={settings.sides}
              options={[
                ["front", "fronts"],
                ["back", "backs"],
                ["both", "both"],
              ]}
              commit={(sides) => change({ sides: sides as PictureOrder["sides"] })}
            />
          </div>
          {settings.form !== "svg" && (
            <div className="order-pair">
              <AmountInput
                label="Size"
                value={settings[by] ?? USUAL[by]}
                least={by === "dpi" ? 20 : 8}
                most={by === "dpi" ? 1200 : 8000}
                commit={(value) => setSize(by, value)}
              />
              <Picking
                label="Counted in"
                value={by}
                options={SIZES}
                commit={(how) => setSize(how as keyof typeof USUAL, USUAL[how as keyof typeof USUAL])}
              />
            </div>
          )}
          <Picking
            label="Edge"
            value={settings.extent}
            options={[
              ["cut", "as cut, clear beyond it"],
              ["square", "corners filled"],
              ["bleed", "with the bleed"],
            ]}
            commit={(extent) => change({ extent: extent as PictureOrder["extent"] })}
          />
          {settings.form === "jpeg" && (
            <AmountInput
              label="Quality"
              value={settings.quality}
              least={30}
              most={100}
              commit={(quality) => change({ quality })}
            />
          )}
        </fieldset>
        <fieldset className="order-part">
          <legend>Names of the files</legend>
          <Typing label="Pattern" value={settings.names} commit={(names) => change({ names })} />
          <div className="order-words">
            {words.map(({ word, help }) => (
              <button
                key={word}
                type="button"
                className="small-button"
                title={help}
                onClick={() => change({ names: `${settings.names.trimEnd()} {${word}}` })}
              >
                {word}
              </button>
            ))}
          </div>
        </fieldset>
      </section>
      <section className="names-stage mat" aria-label="Names" tabIndex={0}>
        {found && (
          <ol className="names">
            {found.first.map((each) => (
              <li key={each.file}>
                {each.side === "front" ? (
                  <Face card={each.card} title={cards[each.card]?.title ?? each.card} />
                ) : (
                  <span className="names-back">back of {cards[each.card]?.title}</span>
                )}
                <span className="names-file">{each.file}</span>
              </li>
            ))}
            {found.count > found.first.length && (
              <li className="names-more">and {counted(found.count - found.first.length, "more", "more")}</li>
            )}
          </ol>
        )}
      </section>
      <aside className="output-side" aria-label="What will be made">
        <Summary
          title={found && !trouble ? counted(found.count, "picture") : trouble ? "No picture to make yet" : "Looking…"}
          more={settings.form === "svg" ? ["at their own size, texts as outlines"] : sizes.slice(0, 3)}
          warnings={found?.warnings ?? []}
          trouble={trouble}
          make={{
            icon: Images,
            label: "Make the pictures",
            ready: !!found,
            act: () => void work.begin("pictures", order),
          }}
        />
        {side}
      </aside>
    </>
  );
}
