// Start a new match from any room.

import { ApiError, newKey, type Schemas } from "../state/client";
import { say } from "../state/store";
import * as requests from "./api";

type Asked = Partial<Schemas["NewPlaytestIn"]>;

/** Begins a match; without a deck one is chosen or made, and a card that is named is in the opening hand. Null where it was refused, which is said. */
export async function newTable(game: string, asked: Asked): Promise<Schemas["PlaytestOut"] | null> {
  try {
    return await requests.newPlaytest({
      params: { path: { game_id: game }, header: { "idempotency-key": newKey() } },
      body: {
        deck: "",
        card: "",
        mine: "person",
        player: "plain",
        rival_deck: "",
        second: false,
        seats: 0,
        players: [],
        ...asked,
      },
    });
  } catch (error) {
    if (!(error instanceof ApiError)) throw error;
    say(error.problem);
    return null;
  }
}
