/** The patterns that a back, or a place on a face, can have. */
export const GROUNDS = [
  ["trellis", "trellis"],
  ["diamonds", "diamonds"],
  ["dots", "dots"],
  ["weave", "weave"],
  ["furrows", "lines"],
  ["panes", "panes"],
  ["plain", "plain"],
] as const;
