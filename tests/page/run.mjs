// Runs a script with the bundled page and a given value; prints its result as JSON. The script is the body of a function of (page, given).
import { readFileSync } from "node:fs";

const kept = () => {
  const held = new Map();
  return { getItem: (key) => held.get(key) ?? null, setItem: (key, value) => held.set(key, String(value)), removeItem: (key) => held.delete(key) };
};
// What modules of the page read when they are loaded.
Object.assign(globalThis, {
  sessionStorage: kept(),
  localStorage: kept(),
  location: new URL("http://127.0.0.1/"),
  window: globalThis,
  addEventListener: () => {},
  // Letters of one width.
  document: { createElement: () => ({ getContext: () => ({ measureText: (text) => ({ width: text.length * 7 }) }) }) },
  matchMedia: () => ({ matches: false, addEventListener: () => {} }),
});
const { bundle, script, given } = JSON.parse(readFileSync(0, "utf8"));
const page = await import(bundle);
const result = await new Function("page", "given", script)(page, given);
process.stdout.write(JSON.stringify(result ?? null));
