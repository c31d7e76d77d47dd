// A match at the table. The match and the shown moment are in the address, so that reloading and sharing keep them.

import { useCallback, useEffect, useRef, useState } from "react";
import { useAddress } from "../state/address";
import { ApiError, isAway, newKey } from "../state/client";
import { useOnceBack } from "../state/query";
import { say, useGame } from "../state/store";
import * as requests from "./api";
import { StartPane } from "./components/StartPane";
import { Table } from "./components/Table";
import { newTable } from "./startMatch";
import type { Deciding, ManualMove, Playtest } from "./types";

/** How often, and every how many ms, a server that can't be reached is asked again. */
const MOST_TRIES = 40;
const PAUSE = 1_500;

export function PlaytestPage() {
  const game = useGame((state) => state.game);
  const [params, setParams] = useAddress();
  const id = params.get("table");
  const [table, setTable] = useState<Playtest | null>(null);
  const [past, setPast] = useState<Playtest | null>(null);
  const [waiting, setWaiting] = useState(false);
  const latest = useRef<Playtest | null>(null);
  /** How often another moment was asked for. */
  const looks = useRef(0);
  /** Decisions are sent one after the other, so that no key press is lost or applied to another moment. */
  const line = useRef<Promise<void>>(Promise.resolve());
  const gameId = game?.id ?? "";
  const show = useCallback((next: Playtest | null) => {
    latest.current = next;
    setTable(next);
    setPast(null);
  }, []);
  const { round, lost } = useOnceBack();
  const fetched = useCallback(
    (ident: string, at = -1) =>
      requests.onePlaytest({
        params: { path: { game_id: gameId, playtest_id: ident }, query: { at } },
      }),
    [gameId],
  );
  // biome-ignore lint/correctness/useExhaustiveDependencies: `round` asks once more
  useEffect(() => {
    if (!id || latest.current?.id === id) return;
    fetched(id).then(show, (error: unknown) => {
      lost(error);
      if (isAway(error)) return;
      if (error instanceof ApiError) say(error.problem);
      setParams({}, { replace: true });
    });
  }, [id, fetched, show, setParams, lost, round]);

  /** Something done to the table as it stands by then; what is refused is said, and the table is read anew. */
  const move = useCallback(
    (doing: (now: Playtest) => Promise<Playtest> | null) => {
      line.current = line.current.then(async () => {
        const now = latest.current;
        if (!now) return;
        // A server that is gone is waited for: what was decided is asked again, and what came through is not done twice.
        for (let tries = 0; ; tries++) {
          try {
            const next = await doing(now);
            if (next) show(next);
            break;
          } catch (error) {
            if (!(error instanceof ApiError)) throw error;
            const gone = error.problem.status === 0 && tries < MOST_TRIES;
            if (!gone || tries === 0) say(error.problem);
            if (gone) {
              setWaiting(true);
              await new Promise((resolve) => setTimeout(resolve, PAUSE));
              continue;
            }
            if (error.problem.status === 409) await fetched(now.id).then(show, () => undefined);
            break;
          }
        }
        setWaiting(false);
      });
    },
    [fetched, show],
  );
  const path = useCallback(
    (ident: string) => ({
      params: { path: { game_id: gameId, playtest_id: ident }, header: { "idempotency-key": newKey() } },
    }),
    [gameId],
  );
  const decide = useCallback(
    (found: Deciding) =>
      move((now) => {
        const option = found(now);
        return (
          option &&
          requests.decision({
            ...path(now.id),
            body: { do: option.do, card: option.card, other: option.other, taken: now.taken },
          })
        );
      }),
    [move, path],
  );
  /** What a person does by hand; found when it is its turn, as decisions are. */
  const byHand = useCallback(
    (hand: ManualMove) =>
      move((now) =>
        requests.doneByHand({
          ...path(now.id),
          body: { ...hand, taken: now.taken },
        }),
      ),
    [move, path],
  );
  const takeBack = useCallback(
    () =>
      move((now) =>
        now.taken
          ? requests.undoDecision({
              ...path(now.id),
              body: { taken: now.taken },
            })
          : null,
      ),
    [move, path],
  );
  const step = useCallback(
    () =>
      move((now) =>
        now.asked === "over"
          ? null
          : requests.watchAStep({
              ...path(now.id),
              body: { taken: now.taken },
            }),
      ),
    [move, path],
  );
  /** The moment when so many decisions had been taken; null: now. */
  const lookAt = useCallback(
    async (at: number | null) => {
      const now = latest.current;
      if (!now) return;
      looks.current += 1;
      const mine = looks.current;
      try {
        const stood = at === null || at >= now.taken ? null : await fetched(now.id, at);
        // What was asked for since is what is shown.
        if (latest.current === now && mine === looks.current) setPast(stood);
      } catch (error) {
        if (!(error instanceof ApiError)) throw error;
        say(error.problem);
      }
    },
    [fetched],
  );
  /** A link to a moment, such as a note has: it is looked at once the table is there. */
  const moment = params.get("at");
  const there = table?.id === id;
  useEffect(() => {
    if (!there || moment === null || !/^\d+$/.test(moment)) return;
    void lookAt(Number(moment));
    setParams(
      (now) => {
        now.delete("at");
        return now;
      },
      { replace: true },
    );
  }, [there, moment, lookAt, setParams]);
  // A table that is opened is seen from its top, wherever the page before it was scrolled to.
  const seen = table?.id;
  useEffect(() => {
    if (seen) document.querySelector("main.room")?.scrollTo({ top: 0 });
  }, [seen]);
  const open = (made: Playtest | null) => {
    if (!made) return;
    show(made);
    setParams({ table: made.id });
  };
  const told = async (asked: Promise<Playtest>): Promise<Playtest | null> => {
    try {
      return await asked;
    } catch (error) {
      if (!(error instanceof ApiError)) throw error;
      say(error.problem);
      return null;
    }
  };
  if (!game) return null;
  if (!id || !table || table.id !== id)
    return (
      <StartPane
        game={game}
        deck={params.get("deck")}
        asked={params.get("seed") ?? ""}
        begin={async (deck, seed, against) =>
          open(
            await newTable(gameId, {
              deck,
              seed,
              rival_deck: against.deck,
              player: against.players[0] ?? "plain",
              players: against.players.slice(0, against.seats - 1),
              // The usual number is not named: the rules may just have changed.
              seats: against.seats === game.seats ? 0 : against.seats,
              second: against.second,
              mine: against.mine,
            }),
          )
        }
        open={(ident) => setParams({ table: ident })}
      />
    );
  return (
    <Table
      game={game}
      table={past ?? table}
      now={table}
      waiting={waiting}
      decide={decide}
      byHand={byHand}
      takeBack={takeBack}
      step={step}
      lookAt={lookAt}
      branch={(at, name) => void told(requests.branchOff({ ...path(table.id), body: { at, name } })).then(open)}
      again={(seed) => void told(requests.playAgain({ ...path(table.id), body: { seed } })).then(open)}
      leave={() => setParams(table.deck ? { deck: table.deck } : {})}
    />
  );
}
