// The layout of a hand that is not flat: each card's position and rotation, from four numbers.

/** `spread`: pixels between cards that do not overlap. `rise`: how much higher the middle lies than the ends, in pixels; below 0 lower.
 * `turn`: degrees of the outermost cards. `overlap`: the share of a card that the next one covers. */
export type HandLook = { spread: number; rise: number; turn: number; overlap: number };
export type Laid = { left: number; top: number; turn: number };

export const FLAT: HandLook = { spread: 8, rise: 0, turn: 0, overlap: 0 };
export const BOUNDS: Record<keyof HandLook, { name: string; least: number; most: number; step: number; unit: string }> =
  {
    spread: { name: "Spread", least: 0, most: 40, step: 1, unit: "px" },
    rise: { name: "Rise", least: -40, most: 60, step: 2, unit: "px" },
    turn: { name: "Turn", least: 0, most: 20, step: 1, unit: "°" },
    overlap: { name: "Overlap", least: 0, most: 0.8, step: 0.05, unit: "" },
  };

export const isFlat = (look: HandLook): boolean => !look.rise && !look.turn && !look.overlap;

/** Where each of so many cards lies in a row of a width, the turned corners too; cards that have no room lie closer than asked. */
export function laid(count: number, width: number, card: number, tall: number, look: HandLook): Laid[] {
  const corner = (Math.sin((look.turn * Math.PI) / 180) * tall) / 2;
  const room = width - 2 * corner;
  const asked = card * (1 - look.overlap) + (look.overlap ? 0 : look.spread);
  const step = count > 1 ? Math.min(asked, Math.max(0, (room - card) / (count - 1))) : 0;
  const middle = (count - 1) / 2;
  return Array.from({ length: count }, (_, place) => {
    const off = middle ? (place - middle) / middle : 0;
    return { left: corner + place * step, top: look.rise * off * off - Math.min(0, look.rise), turn: look.turn * off };
  });
}

/** How much higher than its cards such a row is. */
export const heightOver = (card: number, look: HandLook): number =>
  Math.abs(look.rise) + Math.ceil(Math.abs(Math.sin((look.turn * Math.PI) / 180)) * card);
