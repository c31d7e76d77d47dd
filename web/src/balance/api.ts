// The requests of Balance.
import { api, ask, type RequestOptions } from "../state/client";

export const beginMeasuring = (request: RequestOptions<"/api/games/{game_id}/measure", "post">) =>
  ask(api.POST("/api/games/{game_id}/measure", request));
export const costAndWorth = (request: RequestOptions<"/api/games/{game_id}/map", "get">) =>
  ask(api.GET("/api/games/{game_id}/map", request));
export const duels = (request: RequestOptions<"/api/games/{game_id}/measure/duels", "post">) =>
  ask(api.POST("/api/games/{game_id}/measure/duels", request));
export const games = () => ask(api.GET("/api/games"));
export const keepMeasurement = (request: RequestOptions<"/api/games/{game_id}/measurements", "post">) =>
  ask(api.POST("/api/games/{game_id}/measurements", request));
export const keptMeasurements = (request: RequestOptions<"/api/games/{game_id}/measurements", "get">) =>
  ask(api.GET("/api/games/{game_id}/measurements", request));
export const measurement = (request: RequestOptions<"/api/games/{game_id}/measure", "get">) =>
  ask(api.GET("/api/games/{game_id}/measure", request));
export const moreGames = (request: RequestOptions<"/api/games/{game_id}/measure/more", "post">) =>
  ask(api.POST("/api/games/{game_id}/measure/more", request));
export const putRulePart = (request: RequestOptions<"/api/games/{game_id}/rules/parts/{part}", "put">) =>
  ask(api.PUT("/api/games/{game_id}/rules/parts/{part}", request));
export const ruleParts = (request: RequestOptions<"/api/games/{game_id}/rules/parts", "get">) =>
  ask(api.GET("/api/games/{game_id}/rules/parts", request));
export const setHealth = (request: RequestOptions<"/api/games/{game_id}/health", "get">) =>
  ask(api.GET("/api/games/{game_id}/health", request));
export const sideBySide = (request: RequestOptions<"/api/games/{game_id}/lenses", "get">) =>
  ask(api.GET("/api/games/{game_id}/lenses", request));
export const stopMeasuring = (request: RequestOptions<"/api/games/{game_id}/measure/stop", "post">) =>
  ask(api.POST("/api/games/{game_id}/measure/stop", request));
export const sweep = (request: RequestOptions<"/api/games/{game_id}/measure/sweep", "post">) =>
  ask(api.POST("/api/games/{game_id}/measure/sweep", request));
export const sweepWorth = (request: RequestOptions<"/api/games/{game_id}/measure/sweep-worth", "post">) =>
  ask(api.POST("/api/games/{game_id}/measure/sweep-worth", request));
export const takeMeasurementOut = (
  request: RequestOptions<"/api/games/{game_id}/measurements/{measurement_id}", "delete">,
) => ask(api.DELETE("/api/games/{game_id}/measurements/{measurement_id}", request));
export const whatIf = (request: RequestOptions<"/api/games/{game_id}/measure/what-if", "post">) =>
  ask(api.POST("/api/games/{game_id}/measure/what-if", request));
