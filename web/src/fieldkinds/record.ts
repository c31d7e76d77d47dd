// The interface of a field kind, so that no room depends on a specific kind.
import type { ComponentType } from "react";
import type { Card, Field, Game } from "../state/client";

export type Kind = Field["kind"];
export type Of<K extends Kind> = Extract<Field, { kind: K }>;

/** How a column gives way to what matters where room is short: a smaller rank earlier, to `least` pixels. */
export type Giving = { rank: number; least: number; marked?: boolean };

export type ShownProps<K extends Kind> = { game: Game; card: Card; field: Of<K>; text: string; narrow: boolean };

export type FieldRecord<K extends Kind> = {
  /** The name under which a kind without settings of its own is offered; the others have an editor in `editors`. */
  name?: string;
  /** The kinds as the import names them, where a column of a sheet can become one. */
  imported: readonly (readonly [kind: string, name: string])[];
  /** The width of its column, in pixels, where its name is short. */
  width: number | ((field: Of<K>, game: Game) => number);
  gives: readonly Giving[];
  /** Whether its column comes after the effect, since it is read less often. */
  late?: boolean;
  /** Whether a person types its values; the others are computed. */
  typed: boolean;
  /** Whether find-and-replace looks through it. */
  worded?: boolean;
  /** Typed in the side pane, not in a cell. */
  long?: (field: Of<K>) => boolean;
  /** Set to the right, in figures, with a keyboard for them. */
  numeric?: boolean;
  /** Alt with an arrow steps it. */
  steps?: boolean;
  /** The blank toggles it between these texts. */
  toggles?: readonly [on: string, off: string];
  /** Values that recur are worth counting: in their own order, or the commonest first. */
  counted?: "in order" | "commonest first";
  /** Several values stand in it, with commas between. */
  several?: boolean;
  /** Whether its values have marks that can stand without their words. */
  marked?: (field: Of<K>, game: Game) => boolean;
  /** The texts that can be typed, where it takes only certain ones. */
  choices?: (field: Of<K>, game: Game, card: Card | undefined) => string[];
  /** What a cell shows, where that is more than its text. */
  Shown?: ComponentType<ShownProps<K>>;
};

export const offeredOf = (game: Game, list: string) =>
  game.lists.find((each) => each.id === list)?.values.filter((value) => !value.retired) ?? [];
