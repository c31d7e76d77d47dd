// The requests of the frame of the page.
import { api, ask, type RequestOptions } from "../state/client";

export const damage = (request: RequestOptions<"/api/games/{game_id}/damage", "get">) =>
  ask(api.GET("/api/games/{game_id}/damage", request));
export const editMeasured = (request: RequestOptions<"/api/games/{game_id}/measure/edit", "get">) =>
  ask(api.GET("/api/games/{game_id}/measure/edit", request));
export const games = () => ask(api.GET("/api/games"));
export const walkBack = (request: RequestOptions<"/api/games/{game_id}/repair", "post">) =>
  ask(api.POST("/api/games/{game_id}/repair", request));
