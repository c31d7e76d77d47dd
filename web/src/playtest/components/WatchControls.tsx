// Controls of a match between automatic players: one step, or continuous at a speed.
import { Pause, Play, StepForward } from "lucide-react";
import { useEffect, useState } from "react";
import type { Playtest } from "../types";

const SPEEDS = [
  ["1600", "slow"],
  ["700", "steady"],
  ["150", "fast"],
] as const;

type Props = { table: Playtest; step: () => void; handsOpen: boolean; openHands: () => void };

export function WatchControls({ table, step, handsOpen, openHands }: Props) {
  const [running, setRunning] = useState(false);
  const [pace, setPace] = useState("700");
  const over = table.asked === "over";
  // biome-ignore lint/correctness/useExhaustiveDependencies: each decision that has come asks for the next
  useEffect(() => {
    if (!running || over) return;
    const timer = setTimeout(step, Number(pace));
    return () => clearTimeout(timer);
  }, [running, over, pace, table.taken]);
  return (
    <div className="watching" role="group" aria-label="Watching">
      <button type="button" className="mat-button" disabled={over} onClick={() => setRunning(!running)}>
        {running && !over ? <Pause size={14} aria-hidden="true" /> : <Play size={14} aria-hidden="true" />}
        {running && !over ? "Pause" : "Let them play"}
      </button>
      <button type="button" className="mat-button" disabled={over || running} onClick={step}>
        <StepForward size={14} aria-hidden="true" /> One step <kbd>N</kbd>
      </button>
      <select className="select" aria-label="Speed" value={pace} onChange={(event) => setPace(event.target.value)}>
        {SPEEDS.map(([time, name]) => (
          <option key={time} value={time}>
            {name}
          </option>
        ))}
      </select>
      <button type="button" className="mat-button" aria-pressed={handsOpen} onClick={openHands}>
        {handsOpen ? "Hide the hand across" : "Show both hands"}
      </button>
    </div>
  );
}
