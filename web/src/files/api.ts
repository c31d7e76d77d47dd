// The requests of Files.
import { api, ask, type RequestOptions } from "../state/client";

export const allow = (request: RequestOptions<"/api/games/{game_id}/sources/allowed", "put">) =>
  ask(api.PUT("/api/games/{game_id}/sources/allowed", request));
export const bringPicture = (request: RequestOptions<"/api/games/{game_id}/pictures", "post">) =>
  ask(api.POST("/api/games/{game_id}/pictures", request));
export const exportLook = (request: RequestOptions<"/api/games/{game_id}/export/look", "get">) =>
  ask(api.GET("/api/games/{game_id}/export/look", request));
export const follow = (request: RequestOptions<"/api/games/{game_id}/sources", "post">) =>
  ask(api.POST("/api/games/{game_id}/sources", request));
export const importZip = (request: RequestOptions<"/api/games/{game_id}/pictures/zip", "post">) =>
  ask(api.POST("/api/games/{game_id}/pictures/zip", request));
export const keepSource = (request: RequestOptions<"/api/games/{game_id}/sources/{source_id}/keep", "post">) =>
  ask(api.POST("/api/games/{game_id}/sources/{source_id}/keep", request));
export const layouts = (request: RequestOptions<"/api/games/{game_id}/layouts", "get">) =>
  ask(api.GET("/api/games/{game_id}/layouts", request));
export const look = (request: RequestOptions<"/api/games/{game_id}/imports/preview", "post">) =>
  ask(api.POST("/api/games/{game_id}/imports/preview", request));
export const lookAtLayout = (request: RequestOptions<"/api/games/{game_id}/layouts/preview", "post">) =>
  ask(api.POST("/api/games/{game_id}/layouts/preview", request));
export const lookAtSource = (request: RequestOptions<"/api/games/{game_id}/sources/{source_id}/differences", "post">) =>
  ask(api.POST("/api/games/{game_id}/sources/{source_id}/differences", request));
export const matchPictures = (request: RequestOptions<"/api/games/{game_id}/pictures/match", "post">) =>
  ask(api.POST("/api/games/{game_id}/pictures/match", request));
export const newLayout = (request: RequestOptions<"/api/games/{game_id}/layouts", "post">) =>
  ask(api.POST("/api/games/{game_id}/layouts", request));
export const pictures = (request: RequestOptions<"/api/games/{game_id}/pictures", "get">) =>
  ask(api.GET("/api/games/{game_id}/pictures", request));
export const putLayout = (request: RequestOptions<"/api/games/{game_id}/layouts/{layout_id}", "put">) =>
  ask(api.PUT("/api/games/{game_id}/layouts/{layout_id}", request));
export const putSource = (request: RequestOptions<"/api/games/{game_id}/sources/{source_id}", "put">) =>
  ask(api.PUT("/api/games/{game_id}/sources/{source_id}", request));
export const readSource = (request: RequestOptions<"/api/games/{game_id}/sources/{source_id}/read", "post">) =>
  ask(api.POST("/api/games/{game_id}/sources/{source_id}/read", request));
export const removePictures = (request: RequestOptions<"/api/games/{game_id}/pictures/retire", "post">) =>
  ask(api.POST("/api/games/{game_id}/pictures/retire", request));
export const restoreArchive = (request: RequestOptions<"/api/archives", "post">) =>
  ask(api.POST("/api/archives", request));
export const sources = (request: RequestOptions<"/api/games/{game_id}/sources", "get">) =>
  ask(api.GET("/api/games/{game_id}/sources", request));
export const take = (request: RequestOptions<"/api/games/{game_id}/imports", "post">) =>
  ask(api.POST("/api/games/{game_id}/imports", request));
export const takeLayoutOut = (request: RequestOptions<"/api/games/{game_id}/layouts/{layout_id}", "delete">) =>
  ask(api.DELETE("/api/games/{game_id}/layouts/{layout_id}", request));
export const takeSource = (request: RequestOptions<"/api/games/{game_id}/sources/{source_id}/take", "post">) =>
  ask(api.POST("/api/games/{game_id}/sources/{source_id}/take", request));
export const unfollow = (request: RequestOptions<"/api/games/{game_id}/sources/{source_id}", "delete">) =>
  ask(api.DELETE("/api/games/{game_id}/sources/{source_id}", request));
