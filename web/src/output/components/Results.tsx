// Running and finished jobs.
import { Download, FileArchive, FileText, RotateCw, Square, Trash2 } from "lucide-react";
import { useGame } from "../../state/store";
import { shortly } from "../../ui/when";
import { fileOf, type Job, type Jobs, sized } from "../useOutput";

const NAMES = { print: "PDF", sheets: "table sheets", pictures: "pictures" };
const STATES = {
  waiting: "in the queue",
  running: "is being made",
  stopped: "stopped",
  failed: "failed",
  done: "",
};

export function Results({ work }: { work: Jobs }) {
  const game = useGame((state) => state.game?.id ?? "");
  const jobs = work.jobs;
  if (!jobs) return null;
  return (
    <section className="results" aria-label="Made">
      <h2>Made</h2>
      {!jobs.length && <p className="soft">What you make is kept here, also when you close the page.</p>}
      <ul aria-live="polite">
        {jobs.map((job) => (
          <Result key={job.id} job={job} game={game} work={work} />
        ))}
      </ul>
    </section>
  );
}

function Result({ job, game, work }: { job: Job; game: string; work: Jobs }) {
  const active = job.state === "waiting" || job.state === "running";
  const Icon = job.kind === "print" ? FileText : FileArchive;
  const warnings = (job.result.warnings as string[] | undefined) ?? [];
  const guide = (job.result.guide as string[] | undefined) ?? [];
  return (
    <li className={`result result-${job.state}`}>
      <Icon size={16} aria-hidden="true" />
      <span className="result-name" title={job.file ?? job.title}>
        {job.title}
      </span>
      <span className="result-acts">
        {active ? (
          <button type="button" className="small-button" onClick={() => work.stop(job)}>
            <Square size={11} aria-hidden="true" /> Stop
          </button>
        ) : (
          <>
            {job.state === "done" && (
              <a className="small-button" href={fileOf(job, game)} download aria-label={`Download ${job.title}`}>
                <Download size={13} aria-hidden="true" /> {sized(job.bytes)}
              </a>
            )}
            <button
              type="button"
              className="icon-button"
              aria-label={`Make ${job.title} again`}
              title="The same once more, with the cards as they are now"
              onClick={() => work.again(job)}
            >
              <RotateCw size={13} aria-hidden="true" />
            </button>
            <button
              type="button"
              className="icon-button"
              aria-label={`Take ${job.title} away`}
              onClick={() => work.takeAway(job)}
            >
              <Trash2 size={13} aria-hidden="true" />
            </button>
          </>
        )}
      </span>
      <span className="soft result-told">
        {NAMES[job.kind]} ·{" "}
        {active
          ? `${STATES[job.state]}${job.total ? `, ${job.done} of ${job.total}` : ""}`
          : shortly(job.ended ?? job.at)}
        {!active && STATES[job.state] && (
          <b className={job.state === "failed" ? "needs" : ""}> · {STATES[job.state]}</b>
        )}
      </span>
      {active && (
        <progress
          className="result-bar"
          aria-label={`${job.title}: how far it is`}
          {...(job.total ? { value: job.done, max: job.total } : {})}
        />
      )}
      {job.problem && (
        <p className="result-why">
          <b className="needs">{job.problem.what}</b> — {job.problem.mend}
        </p>
      )}
      {(warnings.length > 0 || guide.length > 0) && (
        <details className="result-more">
          <summary>
            {job.kind === "print" ? "How to print it" : job.kind === "sheets" ? "What to enter there" : "Notes"}
          </summary>
          <ul>
            {[...guide, ...warnings].map((line) => (
              <li key={line}>{line}</li>
            ))}
          </ul>
        </details>
      )}
    </li>
  );
}
