// The requests of the shelf.
import { api, ask, type RequestOptions } from "../state/client";

export const beginGame = (request: RequestOptions<"/api/shelf", "post">) => ask(api.POST("/api/shelf", request));
export const beginWithSheet = (request: RequestOptions<"/api/shelf/sheet", "post">) =>
  ask(api.POST("/api/shelf/sheet", request));
export const changeGame = (request: RequestOptions<"/api/shelf/{game_id}", "put">) =>
  ask(api.PUT("/api/shelf/{game_id}", request));
export const copyGame = (request: RequestOptions<"/api/shelf/{game_id}/copy", "post">) =>
  ask(api.POST("/api/shelf/{game_id}/copy", request));
export const fan = (request: RequestOptions<"/api/shelf/{game_id}/fan", "get">) =>
  ask(api.GET("/api/shelf/{game_id}/fan", request));
export const lookAtNewGame = (request: RequestOptions<"/api/shelf/sheet/look", "post">) =>
  ask(api.POST("/api/shelf/sheet/look", request));
export const removeGame = (request: RequestOptions<"/api/shelf/{game_id}", "delete">) =>
  ask(api.DELETE("/api/shelf/{game_id}", request));
export const restoreArchive = (request: RequestOptions<"/api/archives", "post">) =>
  ask(api.POST("/api/archives", request));
export const shelf = () => ask(api.GET("/api/shelf"));
