// Copies the fonts and symbols that faces use from the packages they come in, for the server and the page alike.
import { cpSync, mkdirSync } from "node:fs";
import { dirname, join } from "node:path";
import { fileURLToPath } from "node:url";

const here = dirname(fileURLToPath(import.meta.url));
const from = join(here, "node_modules");
const to = join(here, "..", "src", "dramok", "assets");

const fonts = {
  "name.ttf": "@expo-google-fonts/vollkorn/600SemiBold/Vollkorn_600SemiBold.ttf",
  "body.ttf": "@expo-google-fonts/source-sans-3/400Regular/SourceSans3_400Regular.ttf",
  "italic.ttf": "@expo-google-fonts/source-sans-3/400Regular_Italic/SourceSans3_400Regular_Italic.ttf",
  "figures.ttf": "@expo-google-fonts/source-sans-3/600SemiBold/SourceSans3_600SemiBold.ttf",
  "rest.ttf": "dejavu-fonts-ttf/ttf/DejaVuSans.ttf",
};
const symbols = {
  "drop.svg": "drop-fill.svg",
  "height.svg": "arrows-vertical-fill.svg",
  "root.svg": "carrot-fill.svg",
  "ribbon.svg": "seal-fill.svg",
  "vigour.svg": "plant-fill.svg",
  "spread.svg": "arrows-out-cardinal-fill.svg",
  "cutting.svg": "scissors-fill.svg",
  "compost.svg": "recycle-fill.svg",
  "merit.svg": "medal-fill.svg",
  // Of no game in particular.
  "coin.svg": "coin-fill.svg",
  "effort.svg": "footprints-fill.svg",
  "strength.svg": "barbell-fill.svg",
  "guard.svg": "wall-fill.svg",
  "supply.svg": "stack-fill.svg",
  "score.svg": "flag-pennant-fill.svg",
};

mkdirSync(join(to, "fonts"), { recursive: true });
mkdirSync(join(to, "symbols"), { recursive: true });
for (const [name, file] of Object.entries(fonts)) cpSync(join(from, file), join(to, "fonts", name));
for (const [name, file] of Object.entries(symbols)) {
  cpSync(join(from, "@phosphor-icons/core/assets/fill", file), join(to, "symbols", name));
}
