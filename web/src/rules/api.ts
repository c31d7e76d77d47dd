// The requests of Rules.
import { api, ask, type RequestOptions } from "../state/client";

export const fitABudget = (request: RequestOptions<"/api/games/{game_id}/rules/parts/prices/fit", "post">) =>
  ask(api.POST("/api/games/{game_id}/rules/parts/prices/fit", request));
export const howMatchesEnd = (request: RequestOptions<"/api/games/{game_id}/rules/parts/play/ends", "post">) =>
  ask(api.POST("/api/games/{game_id}/rules/parts/play/ends", request));
export const lookAtKeywords = (request: RequestOptions<"/api/games/{game_id}/rules/keywords/plan", "post">) =>
  ask(api.POST("/api/games/{game_id}/rules/keywords/plan", request));
export const lookAtOnePart = (request: RequestOptions<"/api/games/{game_id}/rules/parts/{part}/look", "post">) =>
  ask(api.POST("/api/games/{game_id}/rules/parts/{part}/look", request));
export const lookAtThePhrases = (request: RequestOptions<"/api/games/{game_id}/rules/parts/phrases/look", "post">) =>
  ask(api.POST("/api/games/{game_id}/rules/parts/phrases/look", request));
export const lookAtThePrices = (request: RequestOptions<"/api/games/{game_id}/rules/parts/prices/look", "post">) =>
  ask(api.POST("/api/games/{game_id}/rules/parts/prices/look", request));
export const lookAtTheRulesOfPlay = (request: RequestOptions<"/api/games/{game_id}/rules/parts/play/read", "post">) =>
  ask(api.POST("/api/games/{game_id}/rules/parts/play/read", request));
export const putKeywords = (request: RequestOptions<"/api/games/{game_id}/rules/keywords", "put">) =>
  ask(api.PUT("/api/games/{game_id}/rules/keywords", request));
export const putRulePart = (request: RequestOptions<"/api/games/{game_id}/rules/parts/{part}", "put">) =>
  ask(api.PUT("/api/games/{game_id}/rules/parts/{part}", request));
export const ruleParts = (request: RequestOptions<"/api/games/{game_id}/rules/parts", "get">) =>
  ask(api.GET("/api/games/{game_id}/rules/parts", request));
export const rules = (request: RequestOptions<"/api/games/{game_id}/rules", "get">) =>
  ask(api.GET("/api/games/{game_id}/rules", request));
/** A file sent by itself to an address of the game, as a form. */
export const sendFile = (path: string, form: FormData): Promise<unknown> =>
  ask(api.POST(path as never, { body: form as never, bodySerializer: (each: unknown) => each as FormData } as never));
