// The parts of a field kind's editor in the list of a type's fields.
import type { ComponentType } from "react";
import type { FieldDoc, Rules } from "../../state/cardRules";
import type { Kind } from "../record";

export type Put = (part: Partial<Record<string, unknown>>) => void;
export type EditorProps<K extends Kind> = {
  field: Extract<FieldDoc, { kind?: K }>;
  rules: Rules;
  siblings: FieldDoc[];
  symbols: (readonly [string, string])[];
  put: Put;
};

/** One way in which a kind is offered; text is offered short and long, the long one under an id of its own. */
export type Offered = { id?: string; name: string; more: (list: string) => object; is?: (field: FieldDoc) => boolean };

export type FieldEditor<K extends Kind> = {
  offered: readonly Offered[];
  /** What it needs at once, in its line: bounds, a list, a formula. */
  Brief?: ComponentType<EditorProps<K>>;
  /** What else can be said of it, when its line is open. */
  More?: ComponentType<EditorProps<K>>;
};
