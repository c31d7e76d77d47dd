// The user's options for reading and importing a table file.
import type { Schemas } from "../state/client";
import { counted } from "../ui/plural";

export type Plan = Schemas["ImportOut"];
export type Wishes = {
  set_name?: string;
  set_id?: string;
  match: "new" | "code" | "name";
  encoding?: string;
  delimiter?: string;
  sheet?: string;
  header?: number;
  columns: Record<number, string | null>;
  corrections: Record<string, string>;
  accept_near: boolean;
  leave_empty: boolean;
  default_type?: string;
  make: { fields: Record<number, { name: string; kind: string }>; types: string[]; values: Record<string, string[]> };
  leave_out: string[];
  over: string[];
};
export const NO_WISHES: Wishes = {
  match: "new",
  columns: {},
  corrections: {},
  accept_near: false,
  leave_empty: false,
  make: { fields: {}, types: [], values: {} },
  leave_out: ["gone"],
  over: [],
};
export type PlanProps = { plan: Plan; wishes: Wishes; setWishes: (wishes: Wishes) => void };

/** What the button does. */
export function actOf(plan: Plan): string {
  const update = plan.update;
  if (!update) return `Import ${counted(plan.taken_count, "card")}`;
  return plan.ready ? "Write these changes" : "Nothing to write";
}
