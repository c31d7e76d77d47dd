// Motion and sound at the table: settings stored in this browser, and generated tones.
import { create } from "zustand";
import { FLAT, type HandLook } from "./handLayout";
import type { Playtest } from "./types";

/** What can happen, as the log tells it: what it is called, and its tones (Hz), each a moment after the other. */
export const HAPPENINGS = [
  { id: "drawn", name: "Cards drawn", tones: [520] },
  { id: "played", name: "Cards played", tones: [330, 440] },
  { id: "harm", name: "Damage, and cards that go", tones: [196, 147] },
  { id: "moved", name: "Cards moved or given up", tones: [262] },
  { id: "clash", name: "Clashes", tones: [294, 220, 294] },
  { id: "totals", name: "Totals that change", tones: [660] },
  { id: "end", name: "The end", tones: [392, 494, 587] },
] as const;
export type Happening = (typeof HAPPENINGS)[number]["id"];

type Settings = {
  /** Nothing moves, nothing sounds: whatever is set below. */
  moves: boolean;
  sounds: boolean;
  /** Seconds for which a played card stays in sight; 0: not at all, -1: until something is decided. */
  stay: number;
  still: Happening[];
  silent: Happening[];
  hand: HandLook;
  /** The outlines of the hand's cards are painted. */
  outlines: boolean;
};
const KEY = "dramok-table";
const FIRST: Settings = { moves: true, sounds: false, stay: 2, still: [], silent: [], hand: FLAT, outlines: false };

function remembered(): Settings {
  try {
    return { ...FIRST, ...JSON.parse(localStorage.getItem(KEY) ?? "{}") };
  } catch {
    return FIRST;
  }
}

export const useLively = create<Settings>(() => remembered());

export function setLively(change: Partial<Settings>): void {
  useLively.setState(change);
  localStorage.setItem(KEY, JSON.stringify(useLively.getState()));
}

/** What of the happenings is new between two states of a match. */
export function happened(before: Playtest, now: Playtest): Set<Happening> {
  const found = new Set(now.log.slice(before.log.length).map((line) => line.happening));
  return new Set(HAPPENINGS.map((each) => each.id).filter((id) => found.has(id)));
}

let audio: AudioContext | null = null;
const TONE = 0.09;

/** The tones of what happened, one after the other, quietly. */
export function sound(what: Set<Happening>): void {
  const { sounds, silent } = useLively.getState();
  if (!sounds) return;
  const tones = HAPPENINGS.filter((each) => what.has(each.id) && !silent.includes(each.id)).flatMap(
    (each) => each.tones,
  );
  if (!tones.length || typeof AudioContext === "undefined") return;
  audio ??= new AudioContext();
  const from = audio.currentTime + 0.01;
  tones.slice(0, 8).forEach((tone, place) => {
    if (!audio) return;
    const at = from + place * TONE;
    const voice = audio.createOscillator();
    const loud = audio.createGain();
    voice.type = "triangle";
    voice.frequency.value = tone;
    loud.gain.setValueAtTime(0, at);
    loud.gain.linearRampToValueAtTime(0.12, at + 0.012);
    loud.gain.exponentialRampToValueAtTime(0.001, at + TONE * 2);
    voice.connect(loud).connect(audio.destination);
    voice.start(at);
    voice.stop(at + TONE * 2);
  });
}

export const calm = (): boolean => matchMedia("(prefers-reduced-motion: reduce)").matches;
