// The one queue in which edits go to the server, one after another. An edit that can't reach the server stays at its head until it does.
import { isAway } from "./client";
import { useGame } from "./store";

const { setState: set, getState: get } = useGame;
let queue: Promise<unknown> = Promise.resolve();

/** Ms after which an answer is no longer waited for: the edit is sent again, under the same key. */
const HANGS = 30_000;
/** Ms between two tries while the server is away. */
const PAUSE = 2000;
/** An edit that fails this often while the server answers everything else is given up. */
const MOST_ALONE = 4;

const UNANSWERED = Symbol("unanswered");

/** Resolves when the connection is back, or after a pause. */
function back(): Promise<void> {
  const before = get().reconnected;
  return new Promise((resolve) => {
    const done = () => {
      clearTimeout(timer);
      stop();
      resolve();
    };
    const timer = setTimeout(done, PAUSE);
    const stop = useGame.subscribe((now) => now.reconnected !== before && done());
  });
}

/** Sends an edit until it is answered. `write` must send the same key each time. */
async function untilAnswered<T>(write: () => Promise<T>): Promise<T> {
  for (let alone = 0; ; ) {
    let timer: ReturnType<typeof setTimeout> | undefined;
    const late = new Promise<typeof UNANSWERED>((resolve) => {
      timer = setTimeout(() => resolve(UNANSWERED), HANGS);
    });
    try {
      const done = await Promise.race([write(), late]);
      if (done !== UNANSWERED) {
        if (get().away) set({ away: false });
        return done;
      }
    } catch (error) {
      alone = get().connected ? alone + 1 : 0;
      if (!isAway(error) || alone >= MOST_ALONE) {
        if (get().away) set({ away: false });
        throw error;
      }
    } finally {
      clearTimeout(timer);
    }
    set({ away: true });
    await back();
  }
}

/** Puts an edit into the queue; gives its answer. While the server is away the edit waits, and the later ones behind it. */
export function inLine<T>(write: () => Promise<T>): Promise<T> {
  set({ saving: get().saving + 1 });
  const send = () => untilAnswered(write);
  const done = queue.then(send, send).finally(() => set({ saving: get().saving - 1 }));
  queue = done.catch(() => undefined);
  return done;
}

const coming = new Set<Promise<unknown>>();

/** Work that ends in an edit, such as one whose consequences are looked at first: undo waits for it, and it is not saved until then. */
export function underWay<T>(work: Promise<T>): Promise<T> {
  coming.add(work);
  set({ saving: get().saving + 1 });
  work
    .catch(() => undefined)
    .finally(() => {
      coming.delete(work);
      set({ saving: get().saving - 1 });
    });
  return work;
}

/** Done once all that is under way is in the queue. */
export async function allInLine(): Promise<void> {
  while (coming.size) await Promise.allSettled(coming);
}

/** Done once every edit that is on its way now was answered. */
export const answersCome = (): Promise<unknown> => queue;
