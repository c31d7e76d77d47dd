// The progress of a request that plays games, or of compiling the rules before it.
import type { Progress } from "../state/useGamesRequest";

export function GamesProgress({ running, className }: { running: Progress; className?: string }) {
  const { compiled } = running;
  if (compiled === null || compiled === undefined)
    return <progress className={className} max={running.of} value={running.done} aria-label="Games played" />;
  return (
    <span className="games-preparing" role="status">
      <progress className={className} max={1} value={compiled} aria-label="Rules compiled" /> Preparing the rules for
      this machine, once: {Math.round(100 * compiled)} %
    </span>
  );
}
