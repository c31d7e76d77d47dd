// Orders, their previews, and jobs.

import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { addressNow, OWN, useAddress, useOwnAddress } from "../state/address";
import { ApiError, api, ask, newKey, type Schemas } from "../state/client";
import { type Asked, useAsked, useTouched } from "../state/query";
import { say, useGame } from "../state/store";
import * as requests from "./api";

export type CardChoice = Schemas["CardChoice"];
export type PrintOrder = Schemas["PrintOrder"];
export type SheetOrder = Schemas["SheetOrder"];
export type PictureOrder = Schemas["PictureOrder"];
export type Job = Schemas["JobOut"];
export type Kind = Job["kind"];
export type OnPaper = Schemas["OnPaperOut"];
export type Orders = { print: PrintOrder; sheets: SheetOrder; pictures: PictureOrder };

export const ALL_CARDS: CardChoice = {
  deck: "",
  set: "",
  run: "",
  query: "",
  cards: "",
  only: "all",
  copies: null,
  copies_from: "deck",
};
export const FRESH: Orders = {
  print: {
    choice: ALL_CARDS,
    paper: { width: 210, height: 297, margin: 5, gutter: 0, bleed: false, turned: "auto", scale: 1 },
    backs: "none",
    marks: true,
    ruler: true,
    colophon: true,
    ink: "full",
    blanks: 0,
    labels: "none",
    left_out: [],
    name: "",
    record: true,
  },
  sheets: {
    choice: ALL_CARDS,
    decks: [],
    each_copy: true,
    width: 512,
    limits: { side: 4096, columns: 60, rows: 60 },
    megabytes: 10,
    hidden: "none",
    backs: "one",
    extent: "square",
    form: "jpeg",
    quality: 92,
    ground: "#000000",
    single: false,
    table: "",
  },
  pictures: {
    choice: ALL_CARDS,
    form: "png",
    sides: "front",
    dpi: 300,
    width: null,
    height: null,
    extent: "cut",
    quality: 92,
    ground: "#ffffff",
    names: "{code} {name} {side}",
  },
};

/** What is asked anew each time. */
const OF_ONE_TIME = {
  print: { choice: ALL_CARDS, left_out: [], name: "" },
  sheets: { choice: ALL_CARDS, decks: [] },
  pictures: { choice: ALL_CARDS },
};

const WORDS = ["deck", "set", "run", "query", "cards"] as const;

function choiceIn(params: URLSearchParams): CardChoice {
  const copies = Number.parseInt(params.get("copies") ?? "", 10);
  const made: CardChoice = { ...ALL_CARDS, only: (params.get("only") as CardChoice["only"] | null) ?? "all" };
  for (const word of WORDS) made[word] = params.get(word) ?? "";
  made.copies = Number.isNaN(copies) ? null : copies;
  const from = params.get("from");
  made.copies_from = from === "card" || from === "box" ? from : "deck";
  return made;
}

function withChoice(before: URLSearchParams, choice: CardChoice): URLSearchParams {
  const next = new URLSearchParams(before);
  const write = (key: string, value: string | null) => (value ? next.set(key, value) : next.delete(key));
  for (const word of WORDS) write(word, choice[word]);
  write("only", choice.only === "all" ? null : choice.only);
  write("copies", choice.copies == null ? null : String(choice.copies));
  write("from", choice.copies_from === "deck" ? null : choice.copies_from);
  next.delete("leaf");
  return next;
}

/** The chosen cards. They stand in the address as well, which follows a moment later; a link to other cards is followed. */
export function useChoice(): [CardChoice, (part: Partial<CardChoice>) => void] {
  const [params, setParams] = useAddress();
  const [choice, setChoice] = useState(() => choiceIn(params));
  const own = useOwnAddress();
  // biome-ignore lint/correctness/useExhaustiveDependencies: with each address that is not this room's own
  useEffect(() => {
    if (!own) setChoice(choiceIn(addressNow()));
  }, [params, own]);
  const latest = useRef(choice);
  latest.current = choice;
  const put = useCallback(
    (part: Partial<CardChoice>) => {
      const next = { ...latest.current, ...part };
      latest.current = next;
      setChoice(next);
      setParams((before) => withChoice(before, next), { replace: true, state: OWN });
    },
    [setParams],
  );
  return [choice, put];
}

/** What this browser kept; nothing where it can't be read. */
function kept<T>(place: string): T | null {
  try {
    return JSON.parse(localStorage.getItem(place) ?? "null") as T | null;
  } catch {
    return null;
  }
}

/** The first, with what the second says otherwise of the same keys, also of those within. */
function filled<T extends object>(first: T, second: object | null | undefined): T {
  const said = (second ?? {}) as Record<string, unknown>;
  const made = Object.entries(first).map(([key, value]) => {
    const other = said[key];
    if (other === undefined) return [key, value];
    const within = value !== null && typeof value === "object" && !Array.isArray(value);
    return [key, within ? filled(value, other as object) : other];
  });
  return Object.fromEntries(made) as T;
}

/** How things are made, as it was the last time: kept in this browser, else as the latest job of the kind had it. */
export function useSettings<K extends Kind>(
  kind: K,
  jobs: Job[] | null,
): [Orders[K], (part: Partial<Orders[K]>) => void] {
  const game = useGame((state) => state.game?.id ?? "");
  const place = `dramok-output/${game}/${kind}`;
  const [own, setOwn] = useState<Partial<Orders[K]> | null>(() => kept(place));
  const last = jobs?.find((each) => each.kind === kind)?.order as Partial<Orders[K]> | undefined;
  const settings = useMemo(() => {
    return { ...filled(FRESH[kind], own ?? last), ...OF_ONE_TIME[kind] };
  }, [kind, own, last]);
  const latest = useRef(settings);
  latest.current = settings;
  const change = useCallback(
    (part: Partial<Orders[K]>) => {
      const next = { ...latest.current, ...part };
      latest.current = next;
      localStorage.setItem(place, JSON.stringify(next));
      setOwn(next);
    },
    [place],
  );
  return [settings, change];
}

/** How an order would come out, asked anew while it is being changed; with a mistake in it the last that came out stays in sight. */
export function useLook<T>(asking: () => Promise<T>, said: unknown): Asked<T> {
  const seq = useGame((state) => state.seq);
  return useAsked(asking, [said, seq]);
}

/** What is on paper, and what of it is stale. */
export function useOnPaper(): OnPaper | null {
  const game = useGame((state) => state.game?.id ?? "");
  const seq = useGame((state) => state.seq);
  const touched = useTouched("run");
  const asking = () => requests.paper({ params: { path: { game_id: game } } });
  return useAsked<OnPaper>(asking, [game, seq, touched]).found;
}

const ACTIVE = ["waiting", "running"];
const SOON = 350;
const SELDOM = 5_000;

export type Jobs = {
  jobs: Job[] | null;
  begin: <K extends Kind>(kind: K, order: Orders[K]) => Promise<Job | null>;
  stop: (job: Job) => void;
  again: (job: Job) => void;
  takeAway: (job: Job) => void;
};

/** Everything that was asked for, the latest first; looked at often while something is being made. */
export function useJobs(): Jobs {
  const game = useGame((state) => state.game?.id ?? "");
  const [jobs, setJobs] = useState<Job[] | null>(null);
  const [round, setRound] = useState(0);
  const look = useCallback(() => setRound((now) => now + 1), []);
  // biome-ignore lint/correctness/useExhaustiveDependencies: `round` asks once more
  useEffect(() => {
    let mine = true;
    let timer: ReturnType<typeof setTimeout> | undefined;
    const next = async () => {
      let busy = false;
      try {
        const found = await requests.outputJobs({ params: { path: { game_id: game } } });
        if (!mine) return;
        setJobs(found);
        busy = found.some((job) => ACTIVE.includes(job.state));
      } catch {
        // The strip says that the connection is lost; the next round tries again.
      }
      if (mine) timer = setTimeout(() => void next(), busy ? SOON : SELDOM);
    };
    void next();
    return () => {
      mine = false;
      clearTimeout(timer);
    };
  }, [game, round]);
  const tell = useCallback(
    async <T>(asked: Promise<T>): Promise<T | null> => {
      try {
        return await asked;
      } catch (error) {
        if (error instanceof ApiError) say(error.problem);
        return null;
      } finally {
        look();
      }
    },
    [look],
  );
  const at = useCallback((job: Job) => ({ params: { path: { game_id: game, job_id: job.id } } }), [game]);
  const begin = useCallback(
    <K extends Kind>(kind: K, order: Orders[K]) => {
      const signed = { params: { path: { game_id: game }, header: { "idempotency-key": newKey() } } };
      const asked =
        kind === "print"
          ? requests.printRun({ ...signed, body: order as PrintOrder })
          : kind === "sheets"
            ? requests.makeTableSheets({ ...signed, body: order as SheetOrder })
            : requests.makeCardPictures({ ...signed, body: order as PictureOrder });
      return tell(asked);
    },
    [game, tell],
  );
  return {
    jobs,
    begin,
    stop: (job) => void tell(requests.stopJob(at(job))),
    again: (job) => void tell(requests.jobAgain(at(job))),
    takeAway: (job) =>
      void tell(
        api
          .DELETE("/api/games/{game_id}/output/jobs/{job_id}", at(job))
          .then((answer) => ask(Promise.resolve({ ...answer, data: answer.response.ok ? true : undefined }))),
      ),
  };
}

export const fileOf = (job: Job, game: string): string => `/api/games/${game}/output/jobs/${job.id}/file`;

export function sized(bytes: number): string {
  return bytes > 950_000 ? `${(bytes / 1_000_000).toFixed(1)} MB` : `${Math.max(1, Math.round(bytes / 1_000))} kB`;
}
