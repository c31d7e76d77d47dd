// The typed client of the server's API; requests carry the id of this page.
import createClient, { type FetchOptions } from "openapi-fetch";
import type { components, paths } from "../api/schema";

export type Schemas = components["schemas"];
/** The parameters, body and signal of a request. */
export type RequestOptions<Path extends keyof paths, Method extends keyof paths[Path]> = FetchOptions<
  paths[Path][Method]
>;
export type Game = Schemas["GameOut"];
export type Card = Schemas["CardOut"];
export type Sheet = Schemas["SheetOut"];
export type Standing = Schemas["StandingOut"];
export type Deck = Schemas["DeckOut"];
export type Edit = Schemas["EditOut"];
export type Ripple = Schemas["RippleOut"];
export type Field = Game["fields"][number];
export type Note = Schemas["NoteOut"];
export type Mark = Schemas["MomentOut"];
export type Problem = Schemas["ProblemOut"];

function remembered(): string {
  const known = sessionStorage.getItem("dramok-page");
  if (known) return known;
  const made = `page-${crypto.randomUUID().slice(0, 13)}`;
  sessionStorage.setItem("dramok-page", made);
  return made;
}

/** This tab's name: undo is scoped to it, and it knows its own news by it. */
export const PAGE = remembered();

export const newKey = (): string => crypto.randomUUID();

const PAUSES = [250, 1000, 2500];

/**
 * Sends a write again, with the very same key, while no answer comes: the server writes it once, however often it is sent.
 * Every write is given a key here, if it has none yet.
 */
async function patient(asked: Request): Promise<Response> {
  if (asked.method === "GET") return fetch(asked);
  if (!asked.headers.has("idempotency-key")) asked.headers.set("idempotency-key", newKey());
  for (const pause of PAUSES) {
    try {
      return await fetch(asked.clone());
    } catch (error) {
      if (error instanceof DOMException && error.name === "AbortError") throw error;
      await new Promise((resolve) => setTimeout(resolve, pause));
    }
  }
  return fetch(asked);
}

export const api = createClient<paths>({ baseUrl: "", headers: { "X-Page": PAGE }, fetch: patient });

/** What went wrong, always in the same shape, also when the server could not be reached. */
export class ApiError extends Error {
  constructor(readonly problem: Problem) {
    super(problem.detail);
  }
}

/** Whether something failed because the server could not be reached. */
export const isAway = (error: unknown): boolean => error instanceof ApiError && !error.problem.status;

const UNREACHABLE: Problem = {
  type: "about:blank",
  title: "no connection",
  status: 0,
  detail: "the server can't be reached",
  where: "",
  mend: "start it again; what you typed is kept here",
};

type Answer<T> = { data?: T; error?: unknown; response: Response };

/** The data of an answer. Throws ApiError otherwise. */
export async function ask<T>(asked: Promise<Answer<T>>): Promise<T> {
  let answer: Answer<T>;
  try {
    answer = await asked;
  } catch (error) {
    if (error instanceof DOMException && error.name === "AbortError") throw error;
    throw new ApiError(UNREACHABLE);
  }
  if (answer.data !== undefined) return answer.data;
  const said = answer.error as Partial<Problem> | undefined;
  throw new ApiError({
    ...UNREACHABLE,
    status: answer.response.status,
    detail: "the server failed",
    ...said,
  } as Problem);
}
