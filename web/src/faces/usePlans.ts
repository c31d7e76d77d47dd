// Face plans: reading, edits, and previews of cards.

import type { Edit, Schemas } from "../state/client";
import { useAsked, useTouched } from "../state/query";
import { useGame } from "../state/store";
import { change, signed } from "../state/writing";
import * as requests from "./api";

export type Book = Schemas["BookOut"];
export type Plan = Schemas["PlanOut"];
export type Place = Schemas["PlaceOut"];
export type Shown = Schemas["ShownOut"];
export type Size = Schemas["Size"];
export type Patch = Record<string, unknown> | null;
/** What is being edited and not written yet, by placement. */
export type Draft = { places?: Record<string, Patch>; head?: { name?: string; size?: Partial<Size> } };
export type Box = { x: number; y: number; width: number; height: number };
export type How = Schemas["ArrangeIn"]["how"];

export const boxOf = (place: Place): Box => ({
  x: Number(place.doc.x ?? 0),
  y: Number(place.doc.y ?? 0),
  width: Number(place.doc.width ?? 10),
  height: Number(place.doc.height ?? 10),
});

export const nameOf = (place: Place): string => String(place.doc.name || place.id);

export function useBook(): Book | null {
  const game = useGame((state) => state.game?.id ?? "");
  const touched = useTouched("plan", "game", "set");
  return useAsked(() => requests.faceBook({ params: { path: { game_id: game } } }), [game, touched]).found;
}

const ofPlan = (game: string, key: string, plan: string) => ({
  path: { game_id: game, plan_id: plan },
  header: { "idempotency-key": key },
});

export const editPlan = (
  plan: string,
  edit: Draft & { styles?: Record<string, Patch> },
  label?: string,
): Promise<Edit | null> =>
  // What this page has seen is asked once the edit's turn has come: one that waited for another is no conflict with it.
  change((game, key, base) =>
    requests.editFacePlan({
      params: ofPlan(game, key, plan),
      body: {
        places: edit.places ?? {},
        styles: edit.styles ?? {},
        head: edit.head ?? {},
        base,
        label: label ?? null,
      },
    }),
  );

export const makePlan = (body: Schemas["NewPlanIn"]): Promise<Edit | null> =>
  change((game, key) => requests.newFacePlan({ params: signed(game, key), body }));

export const removePlan = (plan: string): Promise<Edit | null> =>
  change((game, key) => requests.takeFacePlanOut({ params: ofPlan(game, key, plan) }));

export const placeField = (plan: string, what: string, at?: [number, number]): Promise<Edit | null> =>
  change((game, key) =>
    requests.newPlacement({
      params: ofPlan(game, key, plan),
      body: { what, at: at ?? null },
    }),
  );

export const arrange = (plan: string, places: string[], how: How): Promise<Edit | null> =>
  change((game, key) =>
    requests.arrangePlacements({
      params: ofPlan(game, key, plan),
      body: { places, how },
    }),
  );

/** Cards as the plan shows them, with what is being edited. `version` changes when anything else may have. */
export function useShown(plan: Plan | null, cards: string[], draft: Draft | null, version: string): Shown[] {
  const game = useGame((state) => state.game?.id ?? "");
  const id = plan?.id ?? "";
  const asking = async () => ({
    plan: id,
    found: await requests.lookAtFacePlan({
      params: { path: { game_id: game, plan_id: id } },
      body: {
        places: draft?.places ?? {},
        head: draft?.head ?? {},
        styles: {},
        base: 0,
        cards,
        side: "front",
        label: null,
      },
    }),
  });
  const shown = useAsked(plan ? asking : null, [game, id, cards, draft, version]).found;
  return shown && shown.plan === id ? shown.found : NONE;
}

const NONE: Shown[] = [];

/** Millimetres as the plan's unit says them, and back. */
export const inUnit = (mm: number, unit: string): number =>
  unit === "in" ? Math.round((mm / 25.4) * 1000) / 1000 : Math.round(mm * 100) / 100;
export const toMm = (value: number, unit: string): number => (unit === "in" ? value * 25.4 : value);
