// The picture of a card: choose, drop, paste or remove it.
import { ImagePlus, Trash2 } from "lucide-react";
import { useRef, useState } from "react";
import { bringPicture, isBrought } from "../../state/cells";

type Props = { label: string; value: string; onFocus: () => void; commit: (sha: string) => void };

export function PictureField({ label, value, onFocus, commit }: Props) {
  const picker = useRef<HTMLInputElement>(null);
  const [busy, setBusy] = useState(false);
  const [over, setOver] = useState(false);
  const bring = async (file: Blob | undefined) => {
    if (!file) return;
    setBusy(true);
    const sha = await bringPicture(file);
    setBusy(false);
    if (sha) commit(sha);
  };
  return (
    <div
      className={`picture-field ${over ? "picture-over" : ""}`}
      role="group"
      aria-label={label}
      onFocus={onFocus}
      onPaste={(event) => void bring([...event.clipboardData.files][0])}
      onDragOver={(event) => {
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(event) => {
        event.preventDefault();
        setOver(false);
        void bring(event.dataTransfer.files[0]);
      }}
    >
      {isBrought(value) ? (
        <img src={`/api/art/${value}`} alt="" />
      ) : (
        <span className="picture-none" aria-hidden="true" />
      )}
      <span className="picture-name">
        {label}
        {value && !isBrought(value) && <small className="needs"> missing file: {value}</small>}
      </span>
      <button type="button" className="small-button" disabled={busy} onClick={() => picker.current?.click()}>
        <ImagePlus size={13} aria-hidden="true" /> {busy ? "Bringing…" : value ? "Change" : "Choose a picture"}
      </button>
      {value && (
        <button type="button" className="icon-button" aria-label={`Remove: ${label}`} onClick={() => commit("")}>
          <Trash2 size={13} aria-hidden="true" />
        </button>
      )}
      <input
        ref={picker}
        type="file"
        className="unseen"
        tabIndex={-1}
        aria-label={`${label}: file`}
        accept="image/*"
        onChange={(event) => {
          void bring(event.target.files?.[0]);
          event.target.value = "";
        }}
      />
    </div>
  );
}
