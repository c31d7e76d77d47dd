// The mark of a choice value: its colour and a shape, so that colour is never the only sign.
const SHAPES = 6;

type Props = { colour: string | null | undefined; place: number };

/** `place` is the value's place in its list: neighbours have different shapes. */
export function Dot({ colour, place }: Props) {
  return (
    <span
      className={`dot dot-${Math.max(0, place) % SHAPES}`}
      style={{ background: colour ?? "#6b6b60" }}
      aria-hidden="true"
    />
  );
}
