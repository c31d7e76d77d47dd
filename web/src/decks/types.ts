// Types shared by the components of this room.
import type { Schemas } from "../state/client";

export type DeckRules = Schemas["Format"];
export type Redraw = NonNullable<Schemas["OddsIn"]["redraw"]>;
