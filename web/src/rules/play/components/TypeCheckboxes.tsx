// A choice of card types; none selected means what `none` says.
import { useGame } from "../../../state/store";

type Props = { label: string; none: string; chosen: string[]; put: (types: string[]) => void; small?: boolean };

export function TypeCheckboxes({ label, none, chosen, put, small }: Props) {
  const types = useGame((state) => state.game?.types) ?? [];
  if (types.length < 2 && small) return null;
  return (
    <fieldset className={small ? "types-ticked types-small" : "types-ticked"}>
      {label && <legend>{label}</legend>}
      {types.map((type) => (
        <label key={type.id} className="form-check">
          <input
            type="checkbox"
            checked={chosen.includes(type.id)}
            onChange={(event) =>
              put(event.target.checked ? [...chosen, type.id] : chosen.filter((each) => each !== type.id))
            }
          />
          {type.name}
        </label>
      ))}
      {chosen.length === 0 && <span className="soft">{none}</span>}
    </fieldset>
  );
}
