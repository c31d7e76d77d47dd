// The path of every edit: into the queue, then its answer is applied, or its refusal shown.
import { ApiError, type Edit, newKey, type Problem } from "./client";
import { inLine } from "./queue";
import { say, useGame } from "./store";
import { applyEdit, later, reload } from "./sync";

/**
 * Writes, and applies the answer. What is refused goes to `refused`, else into a notice; the answer is null then.
 * `write` may be called again while no answer comes, and must send the same key each time. `arrived` is called once, before the rest.
 */
export async function written<T>(
  write: () => Promise<T>,
  take: (done: T) => void,
  refused: (problem: Problem) => void = say,
  arrived: () => void = () => undefined,
): Promise<T | null> {
  try {
    const done = await inLine(write).finally(arrived);
    take(done);
    return done;
  } catch (error) {
    if (!(error instanceof ApiError)) throw error;
    refused(error.problem);
    return null;
  }
}

type Sending = {
  /** Sends it again over what is there now. */
  again?: (base: number) => void;
  /** Keeps what was typed; gives what discards it. */
  kept?: (problem: Problem) => () => void;
  arrived?: () => void;
};

/** Sends an edit; a refusal becomes a notice with what can be done. */
export function send(write: () => Promise<Edit>, { again, kept, arrived }: Sending = {}): Promise<Edit | null> {
  const refused = (problem: Problem) => {
    const { game, seq } = useGame.getState();
    const base = problem.status === 409 ? problem.seq : problem.status === 0 ? seq : null;
    say(problem, again && base != null ? () => again(base) : undefined, kept?.(problem));
    if (problem.status === 409 && game) later(reload(game.id));
  };
  return written(write, applyEdit, refused, arrived);
}

/** Sends an edit of the open game under a key of its own. `base` is what the page has seen when the edit's turn comes. */
export function change(write: (game: string, key: string, base: number) => Promise<Edit>): Promise<Edit | null> {
  const game = useGame.getState().game;
  if (!game) return Promise.resolve(null);
  const key = newKey();
  let base: number | null = null;
  return written(() => {
    base ??= useGame.getState().seq;
    return write(game.id, key, base);
  }, applyEdit);
}

/** The path and the key of an edit. */
export const signed = (game: string, key: string) => ({ path: { game_id: game }, header: { "idempotency-key": key } });
