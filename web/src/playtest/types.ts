// Types shared by the components of this room.
import type { Schemas } from "../state/client";

export type Playtest = Schemas["PlaytestOut"];
export type Player = Schemas["NewPlaytestIn"]["player"];
/** The other seats: their deck (empty: the same deck) and players in the order of play, whether the person goes second, the player of the person's own
 * seat, and the number of seats. */
export type Against = { deck: string; players: Player[]; second: boolean; mine: Player; seats: number };
/** Finds the decision when the queue reaches it: the option may be gone by then. */
export type Deciding = (table: Playtest) => { do: string; card: number; other: number } | null;
export type ManualMove = Omit<Schemas["ByHandIn"], "taken">;
export type ReadCard = (card: Schemas["TableCardOut"]) => void;
