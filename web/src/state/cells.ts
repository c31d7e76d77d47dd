// Write many cells and new cards as one edit; refused cells keep their typed text, marked.
import { ApiError, api, ask, type Edit, newKey, type Problem, type Schemas } from "./client";
import { newCardId, type OwnCard, putBack, refuseNew, showAtOnce, showNew } from "./pending";
import { dropUnsavedOf, keepUnsaved, placeOf, say, useGame } from "./store";
import { applyEdit } from "./sync";
import { change, signed, written } from "./writing";

export type CellEdit = { card: string; field: string; typed: string };
/** A card to be made; without an id of its own it is given one here. */
export type NewCard = { id?: string; type: string; set: string; typed: Record<string, string> };
export type Written = { edit: Edit | null; refused: number; refusedCells: Set<string>; made: string[] };

const inGame = (id: string) => ({ params: { path: { game_id: id }, header: { "idempotency-key": newKey() } } });

/**
 * Sends cells and new cards as one undoable step; both show at once. What is refused keeps its text, marked, with the reason.
 * `base`: up to which edit the page had seen the game.
 */
export function writeCells(
  cells: CellEdit[],
  made: NewCard[] = [],
  label?: string,
  base?: number,
): Promise<Written | null> {
  const { game, seq } = useGame.getState();
  if (!game || (!cells.length && !made.length)) return Promise.resolve(null);
  const fresh: OwnCard[] = made.map((each) => ({ ...each, id: each.id ?? newCardId() }));
  const asked = inGame(game.id);
  const before = useGame.getState().cards;
  const arrived = showAtOnce(cells);
  const come = showNew(game, fresh);
  const write = () =>
    ask(
      api.POST("/api/games/{game_id}/cards/cells", {
        ...asked,
        body: { cells, new: fresh, base: base ?? seq, label: label ?? null },
      }),
    );
  const total = cells.length + fresh.reduce((sum, card) => sum + Object.keys(card.typed).length, 0);
  const again = () => void writeCells(cells, fresh, label, base);
  const answered = () => {
    arrived();
    come();
  };
  return taken(write, { again, cells, fresh, total, answered }).then((done) => {
    // What was refused is shown as it stands; what was typed there is kept beside it.
    const written = new Set((done?.edit?.cards ?? []).map((card) => card.id));
    const back = cells.filter(
      (cell) => !written.has(cell.card) || done?.refusedCells.has(placeOf(cell.card, cell.field)),
    );
    if (back.length) putBack(back, before);
    return done;
  });
}

export function generateCards(asked: Schemas["GenerateIn"]): Promise<Written | null> {
  const game = useGame.getState().game;
  if (!game) return Promise.resolve(null);
  const path = inGame(game.id);
  return taken(() => ask(api.POST("/api/games/{game_id}/generate", { ...path, body: asked })));
}

type Taking = { again?: () => void; cells?: CellEdit[]; fresh?: OwnCard[]; total?: number; answered?: () => void };

async function taken(
  write: () => Promise<Schemas["CellsOut"]>,
  { again, cells = [], fresh = [], total = cells.length, answered }: Taking = {},
): Promise<Written | null> {
  let kept: Written | null = null;
  const game = useGame.getState().game;
  const take = (done: Schemas["CellsOut"]) => {
    for (const { id, typed } of fresh) dropUnsavedOf(id, Object.keys(typed));
    kept = takenIn(done, total);
  };
  const refused = (problem: Problem) => {
    if (game) refuseNew(game, fresh);
    // Nothing was written: what was typed stays in its cells.
    const why = `${problem.detail}: ${problem.mend}`;
    const typedIn = fresh.flatMap(({ id, typed }) =>
      Object.entries(typed).map(([field, text]) => ({ card: id, field, text, why })),
    );
    const kept = cells.map((cell) => ({ card: cell.card, field: cell.field, text: cell.typed, why }));
    if (kept.length + typedIn.length) keepUnsaved([...kept, ...typedIn]);
    say(problem, problem.status === 0 ? again : undefined);
  };
  await written(write, take, refused, answered);
  return kept;
}

/** Takes the answer in: what was refused is kept where it was typed, and said. */
function takenIn(done: Schemas["CellsOut"], total: number): Written {
  if (done.edit) applyEdit(done.edit);
  const made = done.edit?.made ?? [];
  const refused = done.refused.map((each) => {
    const place = each.card.startsWith("new/") ? (made[Number(each.card.slice(4))] ?? each.card) : each.card;
    const meanwhile = each.theirs != null ? ` to “${each.theirs || "empty"}”` : "";
    return {
      card: place,
      field: each.field,
      text: each.typed,
      why: `${each.problem.what}${meanwhile}: ${each.problem.mend}`,
    };
  });
  if (refused.length) keepUnsaved(refused);
  const [first] = done.refused;
  if (first) {
    say({
      type: "about:blank",
      title: "not written",
      status: 422,
      where: first.problem.where,
      detail: `${refused.length} of ${Math.max(total, refused.length)} could not be written and stay marked: ${first.problem.what}`,
      mend: first.problem.mend,
    });
  }
  const refusedCells = new Set(refused.map((each) => placeOf(each.card, each.field)));
  return { edit: done.edit ?? null, refused: refused.length, refusedCells, made };
}

export const duplicateCards = (cards: string[]): Promise<Edit | null> =>
  change((game, key) =>
    ask(api.POST("/api/games/{game_id}/cards/duplicate", { params: signed(game, key), body: { cards } })),
  );

export const takeCardsOut = (cards: string[]): Promise<Edit | null> =>
  change((game, key) =>
    ask(api.POST("/api/games/{game_id}/cards/retire", { params: signed(game, key), body: { cards } })),
  );

export const makeVariants = (card: string, field: string, count: number, step: number): Promise<Edit | null> =>
  change((game, key) =>
    ask(
      api.POST("/api/games/{game_id}/cards/{card_id}/variants", {
        params: { ...signed(game, key), path: { game_id: game, card_id: card } },
        body: { field, count, step },
      }),
    ),
  );

export const saveView = (name: string, doc: Record<string, unknown>): Promise<Edit | null> =>
  change((game, key) => ask(api.PUT("/api/games/{game_id}/views", { params: signed(game, key), body: { name, doc } })));

export const removeView = (view: string): Promise<Edit | null> =>
  change((game, key) =>
    ask(
      api.DELETE("/api/games/{game_id}/views/{view_id}", {
        params: { ...signed(game, key), path: { game_id: game, view_id: view } },
      }),
    ),
  );

/** Whether a picture field's value is a picture, not the name of a file that is still to come. */
export const isBrought = (value: string): boolean => /^[0-9a-f]{64}$/.test(value);

/** Brings a picture in and gives its value for a picture field. */
export async function bringPicture(file: Blob): Promise<string | null> {
  const game = useGame.getState().game;
  if (!game) return null;
  const body = new FormData();
  body.append("file", file, file instanceof File ? file.name : "pasted.png");
  try {
    const kept = await ask(
      api.POST("/api/games/{game_id}/pictures", {
        params: { path: { game_id: game.id } },
        body: body as never,
        bodySerializer: (form: unknown) => form as FormData,
      }),
    );
    if (kept.problem) {
      const { what, where, mend } = kept.problem;
      say({ type: "about:blank", title: "no picture", status: 400, detail: what, where, mend });
    }
    return kept.sha ?? null;
  } catch (error) {
    if (!(error instanceof ApiError)) throw error;
    say(error.problem);
    return null;
  }
}
