// Types shared by the components of this room.
import type { Schemas } from "../../state/client";
import type { PlayDoc } from "./playDoc";

export type PlayPreview = Schemas["PlayLookOut"];
export type EditPlay = (part: Partial<PlayDoc>) => void;
