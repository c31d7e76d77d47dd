// The requests of Playtest.
import { api, ask, type RequestOptions } from "../state/client";

export const branchOff = (request: RequestOptions<"/api/games/{game_id}/playtests/{playtest_id}/branch", "post">) =>
  ask(api.POST("/api/games/{game_id}/playtests/{playtest_id}/branch", request));
export const decision = (request: RequestOptions<"/api/games/{game_id}/playtests/{playtest_id}/decisions", "post">) =>
  ask(api.POST("/api/games/{game_id}/playtests/{playtest_id}/decisions", request));
export const doneByHand = (request: RequestOptions<"/api/games/{game_id}/playtests/{playtest_id}/by-hand", "post">) =>
  ask(api.POST("/api/games/{game_id}/playtests/{playtest_id}/by-hand", request));
export const newPlaytest = (request: RequestOptions<"/api/games/{game_id}/playtests", "post">) =>
  ask(api.POST("/api/games/{game_id}/playtests", request));
export const onePlaytest = (request: RequestOptions<"/api/games/{game_id}/playtests/{playtest_id}", "get">) =>
  ask(api.GET("/api/games/{game_id}/playtests/{playtest_id}", request));
export const playAgain = (request: RequestOptions<"/api/games/{game_id}/playtests/{playtest_id}/again", "post">) =>
  ask(api.POST("/api/games/{game_id}/playtests/{playtest_id}/again", request));
export const playtests = (request: RequestOptions<"/api/games/{game_id}/playtests", "get">) =>
  ask(api.GET("/api/games/{game_id}/playtests", request));
export const undoDecision = (request: RequestOptions<"/api/games/{game_id}/playtests/{playtest_id}/undo", "post">) =>
  ask(api.POST("/api/games/{game_id}/playtests/{playtest_id}/undo", request));
export const watchAStep = (request: RequestOptions<"/api/games/{game_id}/playtests/{playtest_id}/step", "post">) =>
  ask(api.POST("/api/games/{game_id}/playtests/{playtest_id}/step", request));
