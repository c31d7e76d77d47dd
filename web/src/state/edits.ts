// Edits of cards, and undo.
import { writeCells } from "./cells";
import { api, ask, type Edit, newKey, type Problem } from "./client";
import { begunAt } from "./drafts";
import { dropNew, isPending, refusedCard, showAtOnce } from "./pending";
import { allInLine } from "./queue";
import { dropUnsaved, placeOf, say, useGame, type Way } from "./store";
import { applyEdit, later, refreshHistory, reload } from "./sync";
import { send, written } from "./writing";

const { setState: set, getState: get } = useGame;

/** Writes one field as typed; shows it at once. `base`: up to which edit the page had seen the game when typing began. */
export function editField(
  card: string,
  field: string,
  value: string,
  base = begunAt(card, field) ?? get().seq,
): Promise<Edit | null> {
  const game = get().game;
  const old = get().cards[card];
  if (!game || !old) return Promise.resolve(null);
  const refused = refusedCard(card);
  if (refused)
    return writeCells([], [{ ...refused, typed: { ...refused.typed, [field]: value } }]).then(
      (done) => done?.edit ?? null,
    );
  const key = newKey();
  const write = () =>
    ask(
      api.PUT("/api/games/{game_id}/cards/{card_id}/fields/{field_id}", {
        params: { path: { game_id: game.id, card_id: card, field_id: field }, header: { "idempotency-key": key } },
        body: { value, base },
      }),
    );
  const place = placeOf(card, field);
  const arrived = showAtOnce([{ card, field, typed: value }]);
  const keep = (problem: Problem) => {
    set({ unsaved: { ...get().unsaved, [place]: { text: value, why: `${problem.detail}: ${problem.mend}` } } });
    return () => dropUnsaved(card, field);
  };
  const again = (seq: number) => void editField(card, field, value, seq);
  return send(write, { again, kept: keep, arrived }).then((edit) => {
    const newer = isPending(place);
    if (edit && get().unsaved[place] && !newer) dropUnsaved(card, field);
    const now = get().cards[card];
    if (!edit && now && !newer && now.values[field] === value) {
      set({
        cards: { ...get().cards, [card]: { ...now, values: { ...now.values, [field]: old.values[field] ?? "" } } },
      });
    }
    return edit;
  });
}

export const undoLast = (): Promise<Edit | null> => step("undo");
export const redoLast = (): Promise<Edit | null> => step("redo");

/** How to go on where an edit cannot be undone as a whole: only the rest of it, over what is there now, or not at all. */
export type GoOn = "rest" | "over" | "pass";

async function step(word: "undo" | "redo", how?: GoOn, op?: number): Promise<Edit | null> {
  const game = get().game;
  if (!game) return null;
  // What was done just before is undone, not what was written before it.
  await allInLine();
  const params = { path: { game_id: game.id }, header: { "idempotency-key": newKey() } };
  const body = { how: how ?? ("whole" as const), op: op ?? null };
  return written(
    () =>
      ask(
        word === "undo"
          ? api.POST("/api/games/{game_id}/undo", { params, body })
          : api.POST("/api/games/{game_id}/redo", { params, body }),
      ),
    applyEdit,
    (problem) => {
      say(problem);
      if (problem.status !== 409 || problem.op == null) return later(refreshHistory());
      // A conflict is no wall: what can be done with it stands beside it.
      const at = problem.op;
      const on = (next: GoOn) => () => void step(word, next, at);
      const ways: Way[] = [];
      if (problem.rest) ways.push([`${word === "undo" ? "Undo" : "Redo"} the rest`, on("rest")]);
      if (how !== "over") ways.push([`${word === "undo" ? "Undo" : "Redo"} over it`, on("over")]);
      ways.push(["Leave it, go on", on("pass")]);
      const notice = get().notice;
      if (notice) set({ notice: { ...notice, ways } });
      later(reload(game.id));
    },
  );
}

export function addCard(type: string, setId: string, typed: Record<string, string> = {}): Promise<Edit | null> {
  const game = get().game;
  if (!game) return Promise.resolve(null);
  const params = { path: { game_id: game.id }, header: { "idempotency-key": newKey() } };
  return send(() => ask(api.POST("/api/games/{game_id}/cards", { params, body: { type, set: setId, typed } })));
}

export function takeCardOut(card: string): Promise<Edit | null> {
  const game = get().game;
  if (!game) return Promise.resolve(null);
  if (refusedCard(card)) {
    dropNew(card);
    return Promise.resolve(null);
  }
  const params = { path: { game_id: game.id, card_id: card }, header: { "idempotency-key": newKey() } };
  return send(() => ask(api.DELETE("/api/games/{game_id}/cards/{card_id}", { params })));
}
