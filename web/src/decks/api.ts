// The requests of Decks.
import { api, ask, type RequestOptions } from "../state/client";

export const acrossDecks = (request: RequestOptions<"/api/games/{game_id}/decks/across", "get">) =>
  ask(api.GET("/api/games/{game_id}/decks/across", request));
export const compareDecks = (request: RequestOptions<"/api/games/{game_id}/decks/compare", "get">) =>
  ask(api.GET("/api/games/{game_id}/decks/compare", request));
export const deckHands = (request: RequestOptions<"/api/games/{game_id}/decks/{deck_id}/hands", "post">) =>
  ask(api.POST("/api/games/{game_id}/decks/{deck_id}/hands", request));
export const deckOdds = (request: RequestOptions<"/api/games/{game_id}/decks/{deck_id}/odds", "post">) =>
  ask(api.POST("/api/games/{game_id}/decks/{deck_id}/odds", request));
export const deckPast = (request: RequestOptions<"/api/games/{game_id}/decks/{deck_id}/past", "get">) =>
  ask(api.GET("/api/games/{game_id}/decks/{deck_id}/past", request));
export const lookAtDecklist = (request: RequestOptions<"/api/games/{game_id}/decks/lists/look", "post">) =>
  ask(api.POST("/api/games/{game_id}/decks/lists/look", request));
export const measureDeck = (request: RequestOptions<"/api/games/{game_id}/decks/{deck_id}/measure", "get">) =>
  ask(api.GET("/api/games/{game_id}/decks/{deck_id}/measure", request));
