// Some of several zones, at least one.
type Props = {
  label: string;
  zones: readonly (readonly [string, string])[];
  chosen: string[];
  put: (chosen: string[]) => void;
};

export function ZoneCheckboxes({ label, zones, chosen, put }: Props) {
  return (
    <fieldset className="zone-checkboxes">
      <legend>{label}</legend>
      {zones.map(([id, name]) => (
        <label key={id}>
          <input
            type="checkbox"
            checked={chosen.includes(id)}
            disabled={chosen.length === 1 && chosen[0] === id}
            onChange={(event) => put(event.target.checked ? [...chosen, id] : chosen.filter((each) => each !== id))}
          />
          {name}
        </label>
      ))}
    </fieldset>
  );
}
