// The requests of the query bar.
import { api, ask, type RequestOptions } from "../state/client";

export const findCards = (request: RequestOptions<"/api/games/{game_id}/find", "post">) =>
  ask(api.POST("/api/games/{game_id}/find", request));
export const offer = (request: RequestOptions<"/api/games/{game_id}/offers", "get">) =>
  ask(api.GET("/api/games/{game_id}/offers", request));
