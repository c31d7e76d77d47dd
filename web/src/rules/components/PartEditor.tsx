// One part of the rules, chosen on the left.
import { useEffect } from "react";
import { say } from "../../state/store";
import { LEFT, useParts } from "../useParts";
import { DeckRules } from "./DeckRules";
import { OwnFilesEditor } from "./OwnFilesEditor";
import { PhrasesEditor } from "./PhrasesEditor";
import { ResourcesEditor } from "./ResourcesEditor";
import { RolesEditor } from "./RolesEditor";
import { TableEditor } from "./TableEditor";
import { TagsEditor } from "./TagsEditor";
import { WorthsEditor } from "./WorthsEditor";
import "../parts.css";

/** The parts with their names, in the order of the list. */
export const GAME_PARTS = [
  ["roles", "Field roles"],
  ["resources", "Resources"],
  ["table", "At the table"],
  ["formats", "Deck rules"],
  ["prices", "Worths and budgets"],
  ["phrases", "Phrase book"],
  ["tags", "Declared tags"],
  ["symbols", "Symbols and fonts"],
] as const;

/** Parts with something of their own beside them: they scroll by themselves. */
const SIDED = new Set(["prices", "phrases"]);

export function PartEditor({ part }: { part: string }) {
  const { parts, verbs, cues, phrases, symbols, clashes, write, asking } = useParts();
  const elsewhere = asking && asking.part !== part ? asking : null;
  // Who goes to another part leaves what was asked: it is not written, and that is said.
  useEffect(() => {
    if (!elsewhere) return;
    elsewhere.leave();
    say(LEFT);
  }, [elsewhere]);
  if (!parts) return <p className="loading">Opening the rules…</p>;
  return (
    <div className="rules-editor">
      <div className={`rules-main rules-whole ${SIDED.has(part) ? "rules-sided" : ""}`}>
        <h2 className="rules-title">{GAME_PARTS.find(([id]) => id === part)?.[1]}</h2>
        {asking?.part === part && (
          <div className="rules-trouble" role="alert">
            <span>
              <b className="needs">{asking.would.join("; ")}.</b>
            </span>
            <button type="button" className="small-button" onClick={asking.take}>
              Write it
            </button>
            <button type="button" className="small-button" onClick={asking.leave}>
              Leave it as it was
            </button>
          </div>
        )}
        {part === "roles" && <RolesEditor roles={parts.roles} write={write} />}
        {part === "resources" && <ResourcesEditor resources={parts.resources} write={write} />}
        {part === "table" && <TableEditor table={parts.table} resources={parts.resources} write={write} />}
        {part === "formats" && <DeckRules formats={parts.formats} clashes={clashes} write={write} />}
        {part === "tags" && <TagsEditor tags={parts.tags} write={write} />}
        {part === "phrases" && <PhrasesEditor words={parts.phrases} book={phrases} symbols={symbols} write={write} />}
        {part === "symbols" && <OwnFilesEditor symbols={parts.symbols} fonts={parts.fonts} write={write} />}
        {part === "prices" && <WorthsEditor prices={parts.prices} verbs={verbs} cues={cues} write={write} />}
      </div>
    </div>
  );
}
