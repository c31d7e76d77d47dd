// A rules document with edits in flight: each edit applies to the result of the previous one.

import { useEffect, useRef, useState } from "react";
import type { Rules } from "../state/cardRules";
import type { Edit } from "../state/client";
import { underWay } from "../state/queue";
import { useGame } from "../state/store";
import * as requests from "./api";

type Options<Doc> = {
  /** The document as the server has it now; undefined where it is gone. */
  fetched: () => Promise<Doc | undefined>;
  write: (doc: Doc) => Promise<Edit | null>;
  /** Whether a refused edit is no longer shown. Without it the draft stays until it is corrected or given up. */
  back?: boolean;
  /** What of a document an edit begins from. */
  cleaned?: (doc: Doc) => Doc;
};

export function useDocDraft<Doc>(doc: Doc, { fetched, write, back = false, cleaned = (same) => same }: Options<Doc>) {
  const [draft, setDraft] = useState(doc);
  const shown = useRef(draft);
  const latest = useRef(doc);
  const line = useRef<Promise<unknown>>(Promise.resolve());
  const onTheWay = useRef(0);
  latest.current = doc;
  const show = (next: Doc) => {
    shown.current = next;
    setDraft(next);
  };
  const said = JSON.stringify(doc);
  // biome-ignore lint/correctness/useExhaustiveDependencies: what the server says is shown once nothing is on its way
  useEffect(() => {
    if (!onTheWay.current) show(doc);
  }, [said]);

  /** Shows an edit at once, and writes it once the edits before it are answered. */
  const edit = (change: (doc: Doc) => Doc, send: (doc: Doc) => Promise<Edit | null> = write): Promise<Edit | null> => {
    const next = change(cleaned(shown.current));
    show(next);
    const alone = onTheWay.current === 0;
    onTheWay.current += 1;
    const go = async () => {
      const now = alone ? undefined : await fetched();
      return send(now ? change(cleaned(now)) : next);
    };
    const done = line.current.then(go, go).then(
      (answer) => {
        onTheWay.current -= 1;
        if (!answer && back && !onTheWay.current) show(latest.current);
        return answer;
      },
      (error: unknown) => {
        onTheWay.current -= 1;
        throw error;
      },
    );
    line.current = done.catch(() => undefined);
    return underWay(done);
  };
  return { draft, edit, giveUp: () => show(latest.current) };
}

/** The rules of the open game as the server has them now. */
export async function fetchRules(): Promise<Rules | undefined> {
  const game = useGame.getState().game;
  return game ? requests.rules({ params: { path: { game_id: game.id } } }) : undefined;
}
