// The layout of the hand: four numbers, with a live preview.
import { BOUNDS, FLAT, type HandLook, isFlat, laid } from "../handLayout";
import { setLively, useLively } from "../motion";

const SHOWN = 7;
const CARD = 26;
const TALL = 36;

export function HandSettings() {
  const look = useLively((state) => state.hand);
  const outlines = useLively((state) => state.outlines);
  const small = { ...look, spread: look.spread / 5, rise: look.rise / 5 };
  return (
    <fieldset className="hand-settings">
      <legend>The hand</legend>
      <svg className="hand-curve" viewBox="-8 -14 316 66" aria-hidden="true">
        {laid(SHOWN, 300, CARD, TALL, small).map((each, place) => (
          <rect
            key={place}
            x={each.left}
            y={each.top}
            width={CARD}
            height={TALL}
            rx="3"
            transform={`rotate(${each.turn} ${each.left + CARD / 2} ${each.top + TALL / 2})`}
          />
        ))}
      </svg>
      {(Object.keys(BOUNDS) as (keyof HandLook)[]).map((key) => (
        <label key={key}>
          <span>{BOUNDS[key].name}</span>
          <input
            type="range"
            min={BOUNDS[key].least}
            max={BOUNDS[key].most}
            step={BOUNDS[key].step}
            value={look[key]}
            onChange={(event) => setLively({ hand: { ...look, [key]: Number(event.target.value) } })}
          />
          <b className="num">
            {key === "overlap" ? `${Math.round(100 * look[key])} %` : `${look[key]} ${BOUNDS[key].unit}`}
          </b>
        </label>
      ))}
      <label>
        <input type="checkbox" checked={outlines} onChange={(event) => setLively({ outlines: event.target.checked })} />
        <span className="hand-outlines">Paint the outlines by which cards are found under the pointer</span>
      </label>
      {!isFlat(look) && (
        <button type="button" className="link" onClick={() => setLively({ hand: FLAT })}>
          Flat again
        </button>
      )}
    </fieldset>
  );
}
