// The requests of Faces.
import { api, ask, type RequestOptions } from "../state/client";

export const adjustable = (request: RequestOptions<"/api/games/{game_id}/cards/{card_id}/adjust", "get">) =>
  ask(api.GET("/api/games/{game_id}/cards/{card_id}/adjust", request));
export const arrangePlacements = (
  request: RequestOptions<"/api/games/{game_id}/faces/plans/{plan_id}/arrange", "post">,
) => ask(api.POST("/api/games/{game_id}/faces/plans/{plan_id}/arrange", request));
export const copyCardLooks = (request: RequestOptions<"/api/games/{game_id}/cards/looks/copy", "post">) =>
  ask(api.POST("/api/games/{game_id}/cards/looks/copy", request));
export const editFacePlan = (request: RequestOptions<"/api/games/{game_id}/faces/plans/{plan_id}", "put">) =>
  ask(api.PUT("/api/games/{game_id}/faces/plans/{plan_id}", request));
export const faceBook = (request: RequestOptions<"/api/games/{game_id}/faces/book", "get">) =>
  ask(api.GET("/api/games/{game_id}/faces/book", request));
export const lookAtAdjusting = (
  request: RequestOptions<"/api/games/{game_id}/cards/{card_id}/adjust/preview", "post">,
) => ask(api.POST("/api/games/{game_id}/cards/{card_id}/adjust/preview", request));
export const lookAtFacePlan = (request: RequestOptions<"/api/games/{game_id}/faces/plans/{plan_id}/preview", "post">) =>
  ask(api.POST("/api/games/{game_id}/faces/plans/{plan_id}/preview", request));
export const newFacePlan = (request: RequestOptions<"/api/games/{game_id}/faces/plans", "post">) =>
  ask(api.POST("/api/games/{game_id}/faces/plans", request));
export const newPlacement = (request: RequestOptions<"/api/games/{game_id}/faces/plans/{plan_id}/places", "post">) =>
  ask(api.POST("/api/games/{game_id}/faces/plans/{plan_id}/places", request));
export const proofOfFaces = (request: RequestOptions<"/api/games/{game_id}/faces/proof", "get">) =>
  ask(api.GET("/api/games/{game_id}/faces/proof", request));
export const putLooks = (request: RequestOptions<"/api/games/{game_id}/cards/looks", "put">) =>
  ask(api.PUT("/api/games/{game_id}/cards/looks", request));
export const stressStrip = (request: RequestOptions<"/api/games/{game_id}/faces/plans/{plan_id}/stress", "get">) =>
  ask(api.GET("/api/games/{game_id}/faces/plans/{plan_id}/stress", request));
export const takeFacePlanOut = (request: RequestOptions<"/api/games/{game_id}/faces/plans/{plan_id}", "delete">) =>
  ask(api.DELETE("/api/games/{game_id}/faces/plans/{plan_id}", request));
