// The properties of each kind of placement, in the order of the inspector.
import { GROUNDS } from "../ui/backPatterns";

/** `only`: it says something only while another key has one of these values. */
export type Prop = { only?: readonly [string, ...unknown[]] } & Shape;
type Shape =
  | { key: string; label: string; as: "mm" | "em" | "number" | "share"; step?: number }
  | { key: string; label: string; as: "colour"; none?: boolean; back?: boolean }
  | { key: string; label: string; as: "choice"; options: readonly (readonly [string, string])[] }
  | { key: string; label: string; as: "tick" | "text" | "symbol" }
  | { key: string; label: string; as: "field"; kinds?: readonly string[]; none?: string; beside?: boolean };

const ALIGN = [
  ["start", "left"],
  ["middle", "centred"],
  ["end", "right"],
] as const;
const RISE = [
  ["top", "top"],
  ["middle", "middle"],
  ["bottom", "bottom"],
] as const;
export const FONTS = [
  ["name", "title"],
  ["body", "text"],
  ["italic", "text, italic"],
  ["figures", "text, bold"],
] as const;
const PLATES = [
  ["none", "none"],
  ["rectangle", "rectangle"],
  ["round", "round"],
  ["hexagon", "hexagon"],
] as const;
const OUTLINES = PLATES.slice(1);

export const TEXT: readonly Prop[] = [
  { key: "font", label: "Font", as: "choice", options: FONTS },
  { key: "largest", label: "Largest", as: "em", step: 0.1 },
  { key: "least", label: "Least", as: "em", step: 0.1 },
  { key: "ink", label: "Ink", as: "colour" },
  { key: "align", label: "Horizontal alignment", as: "choice", options: ALIGN },
  { key: "rise", label: "Vertical alignment", as: "choice", options: RISE },
  { key: "leading", label: "Line height", as: "number", step: 0.05 },
  { key: "balanced", label: "Balanced lines", as: "tick" },
];

/** What the palette offers that shows no field: `palette` of the placements in the core. */
export const FURNITURE: [string, string][] = [
  ["panel", "Panel"],
  ["frame", "Frame"],
  ["line", "Line"],
  ["ground", "Pattern"],
  ["edges", "Values at edges"],
  ["reminders", "Reminders"],
];

/** Kinds whose text a style may set. */
export const WORDED = ["number", "text", "choice", "edges", "tags", "reminders"];

export const KINDS: Record<string, { name: string; props: readonly Prop[] }> = {
  panel: {
    name: "Panel",
    props: [
      { key: "fill", label: "Filled", as: "colour", none: true, back: true },
      { key: "stroke", label: "Framed", as: "colour", none: true, back: true },
      { key: "thick", label: "Frame", as: "mm", step: 0.1, only: ["stroke", true] },
      { key: "radius", label: "Corners", as: "mm" },
      { key: "outline", label: "Outline", as: "choice", options: OUTLINES },
    ],
  },
  line: {
    name: "Line",
    props: [
      { key: "ink", label: "Ink", as: "colour", back: true },
      { key: "thick", label: "Thick", as: "mm", step: 0.1 },
    ],
  },
  ground: {
    name: "Pattern",
    props: [
      {
        key: "pattern",
        label: "Pattern",
        as: "choice",
        options: [["back", "as the back has"], ...GROUNDS],
      },
      { key: "ink", label: "Ink", as: "colour", back: true },
    ],
  },
  number: {
    name: "Number",
    props: [
      { key: "field", label: "Shows", as: "field", beside: true },
      { key: "plate", label: "Plate", as: "choice", options: PLATES },
      {
        key: "fill",
        label: "Plate's colour",
        as: "colour",
        none: true,
        only: ["plate", "rectangle", "round", "hexagon"],
      },
      { key: "radius", label: "Corners", as: "mm", only: ["plate", "rectangle"] },
      {
        key: "symbol",
        label: "Symbol",
        as: "choice",
        options: [
          ["none", "none"],
          ["below", "below the plate"],
          ["before", "before the number"],
        ],
      },
      { key: "symbol_size", label: "Symbol", as: "mm", step: 0.1, only: ["symbol", "below", "before"] },
      { key: "symbol_ink", label: "Symbol's ink", as: "colour", only: ["symbol", "below", "before"] },
      {
        key: "empty",
        label: "Without a value",
        as: "choice",
        options: [
          ["hide", "not shown"],
          ["dash", "a dash"],
        ],
      },
    ],
  },
  text: {
    name: "Text",
    props: [
      { key: "field", label: "Shows", as: "field", beside: true },
      { key: "also", label: "And after a dot", as: "field", none: "nothing", beside: true },
      { key: "lines", label: "Lines at most (0: all that fit)", as: "number", step: 1 },
      { key: "before", label: "Before it", as: "text" },
      { key: "after", label: "After it", as: "text" },
      { key: "ruled", label: "Ruled like a label", as: "tick" },
      { key: "rule_ink", label: "Rules", as: "colour", none: true, only: ["ruled", true] },
      { key: "head_ink", label: "Head rule", as: "colour", none: true, only: ["ruled", true] },
      { key: "reminders", label: "Reminders below it", as: "tick" },
      { key: "symbol_size", label: "Symbols, size in em", as: "number", step: 0.05 },
      { key: "symbol_rise", label: "Symbols, raised by em", as: "number", step: 0.05 },
      { key: "symbol_ink", label: "Symbols' ink", as: "colour", none: true },
    ],
  },
  picture: {
    name: "Picture",
    props: [
      { key: "field", label: "Shows", as: "field", kinds: ["picture"], none: "the card's first picture" },
      {
        key: "fit",
        label: "Fit",
        as: "choice",
        options: [
          ["cover", "fills the window"],
          ["contain", "whole, within it"],
          ["stretch", "stretched"],
        ],
      },
      { key: "focus_x", label: "Focus across", as: "share", step: 0.05 },
      { key: "focus_y", label: "Focus down", as: "share", step: 0.05 },
      { key: "radius", label: "Corners", as: "mm" },
      { key: "stand_in", label: "Without one, a drawn one", as: "tick" },
    ],
  },
  choice: {
    name: "Choice",
    props: [
      { key: "field", label: "Shows", as: "field", kinds: ["choice"] },
      {
        key: "shown",
        label: "As",
        as: "choice",
        options: [
          ["words", "words"],
          ["notches", "notches in an edge"],
          ["symbol", "its symbol"],
          ["picture", "its picture"],
          ["colour", "its colour"],
        ],
      },
      { key: "fill", label: "Notches", as: "colour", only: ["shown", "notches"] },
      {
        key: "edge",
        label: "Cut into",
        as: "choice",
        only: ["shown", "notches"],
        options: [
          ["left", "the left edge"],
          ["right", "the right edge"],
          ["top", "the top edge"],
          ["bottom", "the bottom edge"],
        ],
      },
      { key: "gap", label: "Notches apart", as: "mm", step: 0.1, only: ["shown", "notches"] },
      { key: "radius", label: "Corners", as: "mm", only: ["shown", "colour"] },
    ],
  },
  symbols: {
    name: "Symbols",
    props: [
      { key: "field", label: "As many as", as: "field", kinds: ["number", "derived"] },
      { key: "symbol", label: "Symbol", as: "symbol" },
      { key: "ink", label: "Ink", as: "colour" },
      { key: "symbol_size", label: "Size", as: "mm", step: 0.1 },
      { key: "gap", label: "Gap", as: "mm", step: 0.1 },
      { key: "most", label: "Drawn up to", as: "number", step: 1 },
      { key: "upright", label: "In a column", as: "tick" },
    ],
  },
  edges: {
    name: "Edges",
    props: [
      { key: "inset", label: "From the edge", as: "mm" },
      { key: "plate", label: "Plate", as: "choice", options: PLATES },
      { key: "plate_size", label: "Plate", as: "mm" },
      { key: "fill", label: "Plate's colour", as: "colour", none: true },
    ],
  },
  tags: {
    name: "Tags",
    props: [
      { key: "field", label: "Shows", as: "field", kinds: ["tags", "choices"] },
      {
        key: "shown",
        label: "As",
        as: "choice",
        options: [
          ["words", "words"],
          ["chips", "chips"],
        ],
      },
      { key: "between", label: "Between them", as: "text", only: ["shown", "words"] },
      { key: "fill", label: "Chips", as: "colour", none: true, only: ["shown", "chips"] },
      { key: "lines", label: "Lines at most (0: all that fit)", as: "number", step: 1 },
    ],
  },
  reminders: {
    name: "Reminders",
    props: [{ key: "lines", label: "Lines at most (0: all that fit)", as: "number", step: 1 }],
  },
};

/** The colour of a placement that is most often another for each value. */
export const MAIN_COLOUR: Record<string, string> = {
  panel: "fill",
  line: "ink",
  ground: "ink",
  number: "fill",
  text: "ink",
  choice: "fill",
  symbols: "ink",
  edges: "fill",
  tags: "ink",
  reminders: "ink",
};
