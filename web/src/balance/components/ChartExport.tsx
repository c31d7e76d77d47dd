import type { RefObject } from "react";
import { type Cell, csvOf, pngOf, save, svgOf } from "../chartExport";

type Props = { name: string; rows: () => Cell[][]; drawing?: RefObject<HTMLElement | null> };

/** The export menu of a chart. `drawing` holds the SVG; a table has none. */
export function ChartExport({ name, rows, drawing }: Props) {
  const file = name
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, "-")
    .replace(/^-|-$/g, "");
  const drawn = (): SVGSVGElement | null => drawing?.current?.querySelector("svg") ?? null;
  return (
    <div className="chart-out" role="group" aria-label={`${name} as a file`}>
      {drawing && (
        <>
          <button
            type="button"
            className="small-button"
            onClick={() => {
              const found = drawn();
              if (found) save(svgOf(found), `${file}.svg`, "image/svg+xml");
            }}
          >
            SVG
          </button>
          <button
            type="button"
            className="small-button"
            onClick={() => {
              const found = drawn();
              if (found) void pngOf(found).then((picture) => save(picture, `${file}.png`));
            }}
          >
            PNG
          </button>
        </>
      )}
      <button type="button" className="small-button" onClick={() => save(csvOf(rows()), `${file}.csv`, "text/csv")}>
        CSV
      </button>
    </div>
  );
}
