// Types shared by the components of this room.
import type { Schemas } from "../state/client";

export type Playtest = Schemas["PlaytestOut"];
export type Player = Schemas["NewPlaytestIn"]["player"];
/** The other seat: its deck (empty: the same deck) and player, whether the person goes second, and the player of the person's own seat. */
export type Against = { deck: string; player: Player; second: boolean; mine: Player };
/** Finds the decision when the queue reaches it: the option may be gone by then. */
export type Deciding = (table: Playtest) => { do: string; card: number; other: number } | null;
export type ManualMove = Omit<Schemas["ByHandIn"], "taken">;
export type ReadCard = (card: Schemas["TableCardOut"]) => void;
