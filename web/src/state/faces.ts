// Faces as the server lays them out, fetched in batches and kept until their card changes.
import { useEffect, useState } from "react";
import { api, ask } from "./client";

const kept = new Map<string, string>();
const waiting = new Map<string, Set<(svg: string) => void>>();
let game = "";
let timer: ReturnType<typeof setTimeout> | undefined;
const BATCH = 14;

export function facesOf(id: string): void {
  if (id === game) return;
  game = id;
  kept.clear();
}

const watchers = new Map<string, Set<() => void>>();

/** A card changed: its face is laid out anew, and whoever shows it asks again. */
export function forgetFace(card: string): void {
  if (!kept.delete(card) && !watchers.has(card)) return;
  for (const tell of watchers.get(card) ?? []) tell();
}

function request(card: string, take: (svg: string) => void): void {
  const takers = waiting.get(card) ?? new Set();
  takers.add(take);
  waiting.set(card, takers);
  if (timer === undefined) timer = setTimeout(() => void fetchAll(), 8);
}

async function fetchAll(): Promise<void> {
  timer = undefined;
  const batch = [...waiting.keys()].slice(0, BATCH);
  const takers = new Map(batch.map((card) => [card, waiting.get(card) ?? new Set<(svg: string) => void>()]));
  for (const card of batch) waiting.delete(card);
  if (waiting.size) timer = setTimeout(() => void fetchAll(), 0);
  try {
    const faces = await ask(
      api.GET("/api/games/{game_id}/faces", { params: { path: { game_id: game }, query: { ids: batch.join(",") } } }),
    );
    for (const face of faces) {
      kept.set(face.card, face.svg);
      for (const take of takers.get(face.card) ?? []) take(face.svg);
    }
  } catch {
    // Without the server the old face stays; the strip says that the connection is lost.
  }
}

/** The connection is back: faces that could not be fetched are asked for again by whoever shows them. */
export function fetchMissingFaces(): void {
  for (const [card, looks] of watchers) if (!kept.has(card)) for (const look of looks) look();
}

/** The SVG text of a card's face, or null while it is fetched. */
export function useFace(card: string): string | null {
  const [svg, setSvg] = useState<string | null>(() => kept.get(card) ?? null);
  useEffect(() => {
    let live = true;
    const take = (text: string) => live && setSvg(text);
    const look = () => {
      const known = kept.get(card);
      if (known) take(known);
      else request(card, take);
    };
    const all = watchers.get(card) ?? new Set();
    all.add(look);
    watchers.set(card, all);
    look();
    return () => {
      live = false;
      all.delete(look);
    };
  }, [card]);
  return svg;
}
