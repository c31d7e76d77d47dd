// The one line in which edits go to the server, one after another.
import { useGame } from "./store";

const { setState: set, getState: get } = useGame;
let queue: Promise<unknown> = Promise.resolve();

/** Edits go one after another; each carries a key, so that a repeat is harmless. */
export function inLine<T>(write: () => Promise<T>): Promise<T> {
  set({ saving: get().saving + 1 });
  const done = queue.then(write, write).finally(() => set({ saving: get().saving - 1 }));
  queue = done.catch(() => undefined);
  return done;
}

const coming = new Set<Promise<unknown>>();

/** Work that ends in an edit, such as one whose consequences are looked at first: what undoes waits for it. */
export function underWay<T>(work: Promise<T>): Promise<T> {
  coming.add(work);
  work.catch(() => undefined).finally(() => coming.delete(work));
  return work;
}

/** Done once all that is under way has its place in the line. */
export async function allInLine(): Promise<void> {
  while (coming.size) await Promise.allSettled(coming);
}

/** Done once every edit that is on its way now was answered. */
export const answersCome = (): Promise<unknown> => queue;
