// The requests of History.
import { api, ask, type RequestOptions } from "../state/client";

export const cardRevisions = (request: RequestOptions<"/api/games/{game_id}/cards/{card_id}/revisions", "get">) =>
  ask(api.GET("/api/games/{game_id}/cards/{card_id}/revisions", request));
export const changes = (request: RequestOptions<"/api/games/{game_id}/changes", "get">) =>
  ask(api.GET("/api/games/{game_id}/changes", request));
export const journal = (request: RequestOptions<"/api/games/{game_id}/journal", "get">) =>
  ask(api.GET("/api/games/{game_id}/journal", request));
export const journalEntry = (request: RequestOptions<"/api/games/{game_id}/journal/{seq}", "get">) =>
  ask(api.GET("/api/games/{game_id}/journal/{seq}", request));
