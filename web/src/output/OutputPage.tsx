// Output: print runs, table sheets, card pictures; out-of-date prints, and finished jobs.

import { useAddress } from "../state/address";
import type { Schemas } from "../state/client";
import { useAsked, useTouched } from "../state/query";
import { useGame } from "../state/store";
import { Tabs } from "../ui/Tabs";
import * as requests from "./api";
import { CardPicturesPart } from "./components/CardPicturesPart";
import { OnPaperPart } from "./components/OnPaper";
import { PrintPart } from "./components/PrintPart";
import { Results } from "./components/Results";
import { SheetsPart } from "./components/SheetsPart";
import { useJobs, useOnPaper } from "./useOutput";

const PARTS = [
  ["print", "Print run"],
  ["sheets", "Table sheets"],
  ["pictures", "Pictures"],
] as const;

export function OutputPage() {
  const game = useGame((state) => state.game?.id ?? "");
  const [params, setParams] = useAddress();
  const work = useJobs();
  const paper = useOnPaper();
  const touched = useTouched("game");
  const offered = useAsked<Schemas["OutputOut"]>(
    () => requests.output({ params: { path: { game_id: game } } }),
    [game, touched],
  ).found;
  const part = PARTS.find(([id]) => id === params.get("part"))?.[0] ?? "print";
  if (!offered || !work.jobs) return <p className="loading">Laying out…</p>;
  const results = <Results work={work} />;
  const side = (
    <>
      {part === "print" && <OnPaperPart paper={paper} work={work} />}
      {results}
    </>
  );
  return (
    <div className={`output-room output-${part}`}>
      <Tabs
        className="output-tabs"
        label="What to make"
        parts={PARTS}
        at={part}
        choose={(id) => setParams(id === "print" ? {} : { part: id }, { replace: true })}
        panel="output-part"
      />
      {part === "print" ? (
        <PrintPart key={game} work={work} paper={paper} papers={offered.papers} side={side} />
      ) : part === "sheets" ? (
        <SheetsPart key={game} work={work} paper={paper} side={side} />
      ) : (
        <CardPicturesPart key={game} work={work} paper={paper} words={offered.words} side={side} />
      )}
    </div>
  );
}
