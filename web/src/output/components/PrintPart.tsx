// Print runs, with a preview of the pages.

import { Printer } from "lucide-react";
import { useMemo, useState } from "react";
import { useAddress } from "../../state/address";
import type { Schemas } from "../../state/client";
import { useGame } from "../../state/store";
import { counted } from "../../ui/plural";
import { Picking, Ticking, Typing } from "../../ui/Typing";
import * as requests from "../api";
import { type Jobs, type OnPaper, type PrintOrder, useChoice, useLook, useSettings } from "../useOutput";
import { AmountInput } from "./AmountInput";
import { ChoiceForm } from "./ChoiceForm";
import { PagePreview } from "./PagePreview";
import { Summary } from "./Summary";

type Paper = PrintOrder["paper"];
const BACKS = [
  ["none", "no backs"],
  ["long", "behind, long edge"],
  ["short", "behind, short edge"],
  ["beside", "next to their fronts"],
] as const;

type Props = { work: Jobs; paper: OnPaper | null; papers: Schemas["PaperSize"][]; side: React.ReactNode };

export function PrintPart({ work, paper, papers, side }: Props) {
  const game = useGame((state) => state.game?.id ?? "");
  const [choice, put] = useChoice();
  const [settings, change] = useSettings("print", work.jobs);
  const [params, setParams] = useAddress();
  const [name, setName] = useState("");
  const [without, setWithout] = useState<{ of: string; leaves: number[] }>({ of: "", leaves: [] });
  const base: PrintOrder = useMemo(() => ({ ...settings, choice }), [settings, choice]);
  // Pages that were left out are those of this very order.
  const said = JSON.stringify([base.choice, base.paper, base.backs, base.blanks, base.labels]);
  const order: PrintOrder = useMemo(
    () => ({ ...base, name, left_out: without.of === said ? without.leaves : [] }),
    [base, name, without, said],
  );
  const path = { params: { path: { game_id: game } } };
  const { found, trouble } = useLook(() => requests.lookAtPrint({ ...path, body: order }), order);
  const leaf = Math.min(found?.leaves.length ?? 1, Math.max(1, Number(params.get("leaf")) || 1));
  const show = (number: number) =>
    setParams(
      (before) => {
        const next = new URLSearchParams(before);
        number > 1 ? next.set("leaf", String(number)) : next.delete("leaf");
        return next;
      },
      { replace: true },
    );
  const turn = (number: number) => {
    const leaves = order.left_out ?? [];
    setWithout({
      of: said,
      leaves: leaves.includes(number) ? leaves.filter((each) => each !== number) : [...leaves, number],
    });
  };
  const setPaper = (part: Partial<Paper>) => change({ paper: { ...settings.paper, ...part } });
  const made = () => void work.begin("print", order).then((job) => job && setName((now) => (now === name ? "" : now)));
  return (
    <>
      <section id="output-part" className="order" aria-label="What to print">
        <ChoiceForm choice={choice} put={put} paper={paper} withCopies withBlanks />
        <PaperForm paper={settings.paper} papers={papers} set={setPaper} />
        <fieldset className="order-part">
          <legend>Print</legend>
          <Picking
            label="Backs"
            value={settings.backs}
            options={BACKS}
            commit={(backs) => change({ backs: backs as PrintOrder["backs"] })}
          />
          <Picking
            label="Ink"
            value={settings.ink}
            options={[
              ["full", "as designed"],
              ["sparing", "sparing: black on white"],
            ]}
            commit={(ink) => change({ ink: ink as PrintOrder["ink"] })}
          />
          <div className="order-ticks">
            <Ticking label="Cut marks" value={settings.marks} commit={(marks) => change({ marks })} />
            <Ticking
              label="Bleed"
              value={settings.paper.bleed}
              commit={(bleed) => setPaper({ bleed })}
              help="Printed beyond the cut line: hides slightly-off cuts"
            />
            <Ticking
              label="Ruler"
              value={settings.ruler}
              commit={(ruler) => change({ ruler })}
              help="50 mm at the foot, to check the print by"
            />
            <Ticking
              label="Colophon"
              value={settings.colophon}
              commit={(colophon) => change({ colophon })}
              help="Game, run and date at the foot"
            />
          </div>
          <div className="order-pair">
            <AmountInput
              label="Blank cards"
              value={settings.blanks}
              least={0}
              most={500}
              commit={(blanks) => change({ blanks })}
            />
            <Picking
              label="Labels for boxes"
              value={settings.labels}
              options={[
                ["none", "none"],
                ["decks", "of each deck"],
                ["sets", "of each set"],
                ["types", "of each type"],
              ]}
              commit={(labels) => change({ labels: labels as PrintOrder["labels"] })}
            />
          </div>
        </fieldset>
      </section>
      <PagePreview order={order} look={found} leaf={leaf} show={show} turn={turn} left={order.left_out ?? []} />
      <aside className="output-side" aria-label="What will be made">
        <Summary
          title={
            found && !trouble
              ? `${counted(found.copies, "card")} on ${counted(found.pages, "page")}`
              : trouble
                ? "Nothing to print yet"
                : "Laying the pages out…"
          }
          more={found ? layoutSaid(found) : []}
          warnings={found?.warnings ?? []}
          trouble={trouble}
          make={{ icon: Printer, label: "Make the PDF", ready: !!found, act: made }}
        >
          <Typing label="Name of the run" placeholder={found?.title ?? ""} value={name} commit={setName} />
          <Ticking
            label="Remember what was printed"
            value={settings.record}
            commit={(record) => change({ record })}
            help="So that you can see later which printed cards are out of date"
          />
        </Summary>
        {side}
      </aside>
    </>
  );
}

function layoutSaid(found: Schemas["PrintLookOut"]): string[] {
  const said = found.layouts.map((each) => {
    const lies = each.page.width > each.page.height ? "lying" : "upright";
    return `${each.columns} × ${each.rows} to a page, ${lies}, ${round(each.card.width)} × ${round(each.card.height)} mm`;
  });
  return [...new Set(said)];
}

const round = (mm: number): string => String(Math.round(mm * 100) / 100);

type PaperProps = { paper: Paper; papers: Schemas["PaperSize"][]; set: (part: Partial<Paper>) => void };

function PaperForm({ paper, papers, set }: PaperProps) {
  const [measured, setMeasured] = useState("");
  const [amiss, setAmiss] = useState(false);
  const named = papers.find((each) => each.width === paper.width && each.height === paper.height);
  return (
    <fieldset className="order-part">
      <legend>Paper</legend>
      <div className="order-pair">
        <Picking
          label="Size"
          value={named?.name ?? "own"}
          options={[...papers.map((each) => [each.name, each.name] as const), ["own", "own size"]]}
          commit={(name) => {
            const size = papers.find((each) => each.name === name);
            set(size ? { width: size.width, height: size.height } : { width: paper.width + 0.1 });
          }}
        />
        <Picking
          label="Orientation"
          value={paper.turned}
          options={[
            ["auto", "as holds more"],
            ["portrait", "upright"],
            ["landscape", "lying"],
          ]}
          commit={(turned) => set({ turned: turned as Paper["turned"] })}
        />
      </div>
      {!named && (
        <div className="order-pair">
          <AmountInput
            label="Width, mm"
            value={paper.width}
            least={30}
            most={1200}
            digits={1}
            commit={(width) => set({ width })}
          />
          <AmountInput
            label="Height, mm"
            value={paper.height}
            least={30}
            most={1200}
            digits={1}
            commit={(height) => set({ height })}
          />
        </div>
      )}
      <div className="order-pair">
        <AmountInput
          label="Margin, mm"
          value={paper.margin}
          least={0}
          most={100}
          digits={1}
          commit={(margin) => set({ margin })}
        />
        <AmountInput
          label="Gutter, mm"
          value={paper.gutter}
          least={0}
          most={50}
          digits={1}
          commit={(gutter) => set({ gutter })}
        />
      </div>
      <div className="order-pair">
        <AmountInput
          label="Scale, %"
          value={paper.scale * 100}
          least={10}
          most={400}
          digits={2}
          commit={(scale) => set({ scale: scale / 100 })}
        />
        <Typing
          label="My 50 mm ruler measures"
          placeholder="50"
          number
          value={measured}
          commit={(text) => {
            const length = Number.parseFloat(text.replace(",", "."));
            // The printer makes 50 mm, in the scale that it was sent, this long: what is sent must be as much longer.
            const sent = 50 * paper.scale;
            const fits = length >= 0.4 * sent && length <= 2.4 * sent;
            if (fits) set({ scale: Math.round((sent / length) * 10_000) / 10_000 });
            setAmiss(text.trim() !== "" && !fits);
            setMeasured("");
          }}
        />
      </div>
      {amiss && (
        <p role="alert" className="trouble">
          <b>No ruler of 50 mm measures that.</b> Write what yours measures on paper, in mm, such as 48.5.
        </p>
      )}
    </fieldset>
  );
}
