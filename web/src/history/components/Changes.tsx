// Changed fields before and after, and the faces of two moments side by side.

import type { ReactNode } from "react";
import { useId } from "react";
import { type FieldChange, useFaceThen } from "../../state/history";

export function FieldChanges({ changes, act }: { changes: FieldChange[]; act?: (change: FieldChange) => ReactNode }) {
  return (
    <table className="changes">
      <tbody>
        {changes.map((each) => (
          <tr key={each.field}>
            <th scope="row">{each.name}</th>
            <td className="changes-before">{each.before ? <del>{each.before}</del> : <i className="soft">empty</i>}</td>
            <td aria-hidden="true" className="soft">
              →
            </td>
            <td>{each.after ? <ins>{each.after}</ins> : <i className="soft">empty</i>}</td>
            {act && <td className="changes-act">{act(each)}</td>}
          </tr>
        ))}
      </tbody>
    </table>
  );
}

/** `changed`: ids of the fields that are outlined. */
type FaceThenProps = { card: string; seq: number; label: string; changed?: string[] };

/** The face of a card after an edit, or now when `seq` is null. */
export function FaceThen({ card, seq, label, changed }: FaceThenProps) {
  const svg = useFaceThen(card, seq);
  const own = useId();
  const held = (changed ?? []).map((field) => `[id="${own}"] [data-field="${CSS.escape(field)}"] > .hold`);
  return (
    <figure className="face-then" id={own}>
      {held.length > 0 && <style>{`${held.join(",")} { stroke: var(--card-focus); stroke-width: 0.7; }`}</style>}
      {svg === "" ? (
        <div className="face-blank face-none">not there</div>
      ) : svg ? (
        <div className="face-hold" dangerouslySetInnerHTML={{ __html: svg }} />
      ) : (
        <div className="face-blank" />
      )}
      <figcaption>{label}</figcaption>
    </figure>
  );
}
