// Import and export: table files, tracked tables, pictures, exports, the whole game.
import { FileInput, FileOutput, Images, PackageOpen, RadioTower } from "lucide-react";
import { useState } from "react";
import { useAddress } from "../state/address";
import { useGame } from "../state/store";
import { SideNav } from "../ui/SideNav";
import { ImportDialog } from "./components/ImportDialog";
import { PicturesPart } from "./components/PicturesPart";
import { TableExportPart } from "./components/TableExportPart";
import { TrackedTablesPart } from "./components/TrackedTablesPart";
import { WholeGamePart } from "./components/WholeGamePart";

const PARTS = [
  ["out", "Tables out", FileOutput, TableExportPart],
  ["followed", "Followed tables", RadioTower, TrackedTablesPart],
  ["pictures", "Pictures", Images, PicturesPart],
  ["game", "Whole game", PackageOpen, WholeGamePart],
] as const;

export function FilesPage() {
  const game = useGame((state) => state.game);
  const [params, setParams] = useAddress();
  const [importing, setImporting] = useState(false);
  const [id, title, , Part] = PARTS.find(([part]) => part === params.get("part")) ?? PARTS[0];
  if (!game) return null;
  return (
    <div className="rules-room">
      <SideNav label="Files" now={title}>
        <div className="rules-part">
          <h2>In</h2>
          <button type="button" className="rules-item files-item" onClick={() => setImporting(true)}>
            <span>
              <FileInput size={15} aria-hidden="true" /> Import a table file…
            </span>
          </button>
        </div>
        <div className="rules-part">
          <h2>In and out</h2>
          {PARTS.map(([part, name, Icon]) => (
            <button
              key={part}
              type="button"
              className="rules-item files-item"
              aria-current={part === id ? "true" : undefined}
              onClick={() => setParams({ part }, { replace: true })}
            >
              <span>
                <Icon size={15} aria-hidden="true" /> {name}
              </span>
            </button>
          ))}
        </div>
      </SideNav>
      <section className="files-main" aria-label={title}>
        <Part />
      </section>
      <ImportDialog open={importing} setOpen={setImporting} done={() => undefined} />
    </div>
  );
}
