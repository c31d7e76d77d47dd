// Bundles modules of the page for Node. Usage: node bundle.mjs WEB OUT NAME=MODULE…
import { writeFileSync } from "node:fs";
import { pathToFileURL } from "node:url";

const [web, out, ...named] = process.argv.slice(2);
const { rolldown } = await import(pathToFileURL(`${web}/node_modules/rolldown/dist/index.mjs`).href);
const entry = `${out}/entry.ts`;
const lines = named.map((each) => each.split("=")).map(([name, path]) => `export * as ${name} from "${web}/src/${path}";`);
writeFileSync(entry, lines.join("\n"));
const bundle = await rolldown({
  input: entry,
  platform: "node",
  moduleTypes: { ".css": "empty" },
  resolve: { modules: [`${web}/node_modules`] },
  logLevel: "silent",
});
await bundle.write({ file: `${out}/page.mjs`, format: "esm", codeSplitting: false });
await bundle.close();
