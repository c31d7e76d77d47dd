// A dialog in our own style, with its row of buttons.
import { Dialog } from "radix-ui";
import type { ReactNode } from "react";

type Props = {
  open: boolean;
  setOpen: (open: boolean) => void;
  title: string;
  /** What the dialog does, in a sentence. */
  about?: string;
  className?: string;
  children: ReactNode;
};

export function SheetDialog({ open, setOpen, title, about, className, children }: Props) {
  return (
    <Dialog.Root open={open} onOpenChange={setOpen}>
      <Dialog.Portal>
        <Dialog.Overlay className="veil" />
        <Dialog.Content
          className={`small-sheet ${className ?? ""}`}
          onOpenAutoFocus={(event) => {
            // What is likeliest wanted says so itself; else the first control has the focus.
            const first = (event.target as HTMLElement | null)?.querySelector<HTMLElement>("[data-first]");
            if (!first) return;
            event.preventDefault();
            first.focus();
          }}
          {...(about ? {} : { "aria-describedby": undefined })}
        >
          <Dialog.Title className="small-sheet-title">{title}</Dialog.Title>
          {about && <Dialog.Description className="soft small-sheet-about">{about}</Dialog.Description>}
          {children}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

type FootProps = { act: string; ready: boolean; onAct: () => void; cancel: () => void; children?: ReactNode };

export function SheetFoot({ act, ready, onAct, cancel, children }: FootProps) {
  return (
    <div className="small-sheet-foot">
      <span className="small-sheet-said" aria-live="polite">
        {children}
      </span>
      <button type="button" className="button" onClick={cancel}>
        Cancel
      </button>
      <button type="button" className="button button-main" disabled={!ready} onClick={onAct}>
        {act}
      </button>
    </div>
  );
}
