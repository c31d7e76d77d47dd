// Types shared by the components of this room.
import type { Schemas } from "../state/client";

export type MapData = Schemas["MapOut"];
export type HealthData = Schemas["HealthOut"];
export type Comparison = { name: string; cards: Schemas["LiftOut"][] };
export type SweepResult = Schemas["SweepOut"];
export type LensData = Schemas["LensesOut"];
