// The requests of Cards.
import { api, ask, type RequestOptions } from "../state/client";

export const back = (request: RequestOptions<"/api/games/{game_id}/cards/{card_id}/back", "get">) =>
  ask(api.GET("/api/games/{game_id}/cards/{card_id}/back", request));
export const cardOdds = (request: RequestOptions<"/api/games/{game_id}/decks/of/{card_id}", "get">) =>
  ask(api.GET("/api/games/{game_id}/decks/of/{card_id}", request));
export const cardsWall = (request: RequestOptions<"/api/games/{game_id}/wall", "get">) =>
  ask(api.GET("/api/games/{game_id}/wall", request));
export const lookAtGenerated = (request: RequestOptions<"/api/games/{game_id}/generate/preview", "post">) =>
  ask(api.POST("/api/games/{game_id}/generate/preview", request));
export const lookAtReplacing = (request: RequestOptions<"/api/games/{game_id}/replace/preview", "post">) =>
  ask(api.POST("/api/games/{game_id}/replace/preview", request));
export const steps = (request: RequestOptions<"/api/games/{game_id}/steps", "get">) =>
  ask(api.GET("/api/games/{game_id}/steps", request));
