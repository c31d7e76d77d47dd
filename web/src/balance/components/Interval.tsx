type Props = { value: number; low: number; high: number; most: number; wide?: number };
const HIGH = 14;

/** A number with its interval on a scale that all rows share, nothing in the middle. */
export function Interval({ value, low, high, most, wide = 180 }: Props) {
  const at = (number: number) => wide / 2 + (Math.max(-most, Math.min(most, number)) / most) * (wide / 2 - 4);
  return (
    <svg
      width={wide}
      height={HIGH}
      aria-hidden="true"
      className={`lens-interval ${low > 0 ? "lens-above" : high < 0 ? "lens-below" : ""}`}
    >
      <line className="lens-zero" x1={wide / 2} x2={wide / 2} y1={0} y2={HIGH} />
      <line className="lens-range" x1={at(low)} x2={at(high)} y1={HIGH / 2} y2={HIGH / 2} />
      <circle className="lens-point" cx={at(value)} cy={HIGH / 2} r={3.6} />
    </svg>
  );
}

/** The scale that the intervals of a column share: its ends and nothing in the middle. */
export function IntervalScale({ most, wide = 180 }: { most: number; wide?: number }) {
  const end = String(Math.round(most * 10) / 10);
  return (
    <svg width={wide} height={HIGH} aria-hidden="true" className="lens-scale">
      <line className="lens-zero" x1={4} x2={wide - 4} y1={HIGH - 1} y2={HIGH - 1} />
      <text x={4} y={HIGH - 4}>
        −{end}
      </text>
      <text x={wide / 2} y={HIGH - 4} textAnchor="middle">
        0
      </text>
      <text x={wide - 4} y={HIGH - 4} textAnchor="end">
        +{end}
      </text>
    </svg>
  );
}
