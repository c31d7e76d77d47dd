// Work for idle frames: a little in each, so that scrolling is not interrupted.

const BUDGET = 5;
const waiting = new Set<() => void>();
let running = false;

function run(): void {
  const until = performance.now() + BUDGET;
  for (const work of waiting) {
    waiting.delete(work);
    work();
    if (performance.now() > until) break;
  }
  if (waiting.size) requestAnimationFrame(run);
  else running = false;
}

/** Does the work in one of the next frames. Gives back how to call it off. */
export function whenRoom(work: () => void): () => void {
  waiting.add(work);
  if (!running) {
    running = true;
    requestAnimationFrame(run);
  }
  return () => waiting.delete(work);
}
