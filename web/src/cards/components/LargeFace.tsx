// A card's face at reading size.
import type { Sheet } from "../../state/client";
import { SheetFace } from "../../ui/Face";
import { SheetDialog } from "../../ui/Sheet";

type Props = { title: string; shape: string; sheet: Sheet; close: () => void };

export function LargeFace({ title, shape, sheet, close }: Props) {
  return (
    <SheetDialog open setOpen={(open) => !open && close()} title={title} className="large-face">
      <div className={`large-${shape}`}>
        <SheetFace sheet={sheet} />
      </div>
    </SheetDialog>
  );
}
