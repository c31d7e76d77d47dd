// The requests of Output.
import { api, ask, type RequestOptions } from "../state/client";

export const jobAgain = (request: RequestOptions<"/api/games/{game_id}/output/jobs/{job_id}/again", "post">) =>
  ask(api.POST("/api/games/{game_id}/output/jobs/{job_id}/again", request));
export const layouts = (request: RequestOptions<"/api/games/{game_id}/layouts", "get">) =>
  ask(api.GET("/api/games/{game_id}/layouts", request));
export const lookAtPage = (request: RequestOptions<"/api/games/{game_id}/output/print/page", "post">) =>
  ask(api.POST("/api/games/{game_id}/output/print/page", request));
export const lookAtPictures = (request: RequestOptions<"/api/games/{game_id}/output/pictures/look", "post">) =>
  ask(api.POST("/api/games/{game_id}/output/pictures/look", request));
export const lookAtPrint = (request: RequestOptions<"/api/games/{game_id}/output/print/look", "post">) =>
  ask(api.POST("/api/games/{game_id}/output/print/look", request));
export const lookAtSheets = (request: RequestOptions<"/api/games/{game_id}/output/sheets/look", "post">) =>
  ask(api.POST("/api/games/{game_id}/output/sheets/look", request));
export const output = (request: RequestOptions<"/api/games/{game_id}/output", "get">) =>
  ask(api.GET("/api/games/{game_id}/output", request));
export const outputJobs = (request: RequestOptions<"/api/games/{game_id}/output/jobs", "get">) =>
  ask(api.GET("/api/games/{game_id}/output/jobs", request));
export const paper = (request: RequestOptions<"/api/games/{game_id}/output/paper", "get">) =>
  ask(api.GET("/api/games/{game_id}/output/paper", request));
export const stopJob = (request: RequestOptions<"/api/games/{game_id}/output/jobs/{job_id}/stop", "post">) =>
  ask(api.POST("/api/games/{game_id}/output/jobs/{job_id}/stop", request));
export const takeRunOut = (request: RequestOptions<"/api/games/{game_id}/output/runs/{run_id}", "delete">) =>
  ask(api.DELETE("/api/games/{game_id}/output/runs/{run_id}", request));
export const printRun = (request: RequestOptions<"/api/games/{game_id}/output/print", "post">) =>
  ask(api.POST("/api/games/{game_id}/output/print", request));
export const makeTableSheets = (request: RequestOptions<"/api/games/{game_id}/output/sheets", "post">) =>
  ask(api.POST("/api/games/{game_id}/output/sheets", request));
export const makeCardPictures = (request: RequestOptions<"/api/games/{game_id}/output/pictures", "post">) =>
  ask(api.POST("/api/games/{game_id}/output/pictures", request));
