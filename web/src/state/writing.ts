// The one path of everything that is written: into the line, and its answer or its refusal taken in.
import { ApiError, type Edit, newKey, type Problem } from "./client";
import { inLine } from "./queue";
import { say, useGame } from "./store";
import { applyEdit, later, reload } from "./sync";

/** Writes, and takes the answer in. What is refused goes to `refused`, else into a notice; the answer is null then. */
export async function written<T>(
  write: () => Promise<T>,
  take: (done: T) => void,
  refused: (problem: Problem) => void = say,
): Promise<T | null> {
  try {
    const done = await inLine(write);
    take(done);
    return done;
  } catch (error) {
    if (!(error instanceof ApiError)) throw error;
    refused(error.problem);
    return null;
  }
}

/** Sends an edit; a refusal becomes a notice, with what can be done: `again` over what is there now, or to drop it. */
export function send(
  write: () => Promise<Edit>,
  again?: (base: number) => void,
  kept?: (problem: Problem) => (() => void) | undefined,
): Promise<Edit | null> {
  return written(write, applyEdit, (problem) => {
    const { game, seq } = useGame.getState();
    const base = problem.status === 409 ? problem.seq : problem.status === 0 ? seq : null;
    say(problem, again && base != null ? () => again(base) : undefined, kept?.(problem));
    if (problem.status === 409 && game) later(reload(game.id));
  });
}

/** Sends an edit of the open game under a key of its own. */
export function change(write: (game: string, key: string) => Promise<Edit>): Promise<Edit | null> {
  const game = useGame.getState().game;
  if (!game) return Promise.resolve(null);
  const key = newKey();
  return written(() => write(game.id, key), applyEdit);
}

/** The path and the key of an edit. */
export const signed = (game: string, key: string) => ({ path: { game_id: game }, header: { "idempotency-key": key } });
