// What moves and sounds at the table: settings that stay with this browser, and tones made as they are needed.
import { create } from "zustand";
import { FLAT, type HandLook } from "./handLook";
import type { Playtest } from "./PlaytestPage";

/** What can happen, by the lasting codes of events: what it is called, and its tones (Hz), each a moment after the other. */
export const HAPPENINGS = [
  { id: "drawn", name: "Cards drawn", kinds: [1, 17], tones: [520] },
  { id: "played", name: "Cards played", kinds: [3, 43, 63], tones: [330, 440] },
  { id: "harm", name: "Damage, and cards that go", kinds: [8, 9, 66], tones: [196, 147] },
  { id: "gone", name: "Cards moved or given up", kinds: [6, 7, 26, 27, 28, 67], tones: [262] },
  { id: "clash", name: "Clashes", kinds: [42, 44, 45], tones: [294, 220, 294] },
  { id: "totals", name: "Totals that change", kinds: [11, 12, 68], tones: [660] },
  { id: "end", name: "The end", kinds: [46, 47, 48], tones: [392, 494, 587] },
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
  const kinds = new Set(now.log.slice(before.log.length).map((line) => line.kind));
  return new Set(HAPPENINGS.filter((each) => each.kinds.some((kind) => kinds.has(kind))).map((each) => each.id));
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
