// One part of what makes the game a game, chosen at the left.
import { DeckRules } from "./DeckRules";
import { ResourcesEditor } from "./ResourcesEditor";
import { RolesEditor } from "./RolesEditor";
import { TableEditor } from "./TableEditor";
import { TagsEditor } from "./TagsEditor";
import { useParts } from "./useParts";
import { WorthsEditor } from "./WorthsEditor";
import "./parts.css";

/** The parts with their names, in the order of the list. */
export const GAME_PARTS = [
  ["roles", "Parts of fields"],
  ["resources", "Resources"],
  ["table", "At the table"],
  ["formats", "Deck rules"],
  ["prices", "Worths and budgets"],
  ["tags", "Declared tags"],
] as const;

export function PartEditor({ part }: { part: string }) {
  const { parts, verbs, cues, write } = useParts();
  if (!parts) return <p className="loading">Opening the rules…</p>;
  return (
    <div className="rules-editor">
      <div className="rules-main rules-whole">
        <h2 className="rules-title">{GAME_PARTS.find(([id]) => id === part)?.[1]}</h2>
        {part === "roles" && <RolesEditor roles={parts.roles} write={write} />}
        {part === "resources" && <ResourcesEditor resources={parts.resources} write={write} />}
        {part === "table" && <TableEditor table={parts.table} resources={parts.resources} write={write} />}
        {part === "formats" && <DeckRules formats={parts.formats} write={write} />}
        {part === "tags" && <TagsEditor tags={parts.tags} write={write} />}
        {part === "prices" && <WorthsEditor prices={parts.prices} verbs={verbs} cues={cues} write={write} />}
      </div>
    </div>
  );
}
