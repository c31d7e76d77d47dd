// Export a chart: as SVG or PNG with its styles inlined, and its numbers as CSV.
const KEPT = [
  "fill", "fill-opacity", "stroke", "stroke-width", "stroke-dasharray", "stroke-opacity", "opacity", "font-size", "font-family",
  "font-weight", "text-anchor", "paint-order", "display", "visibility",
]; // biome-ignore format: one list
const SHARP = 2;

/** The drawing as a standalone document on the page's background. */
export function svgOf(drawing: SVGSVGElement): string {
  const copy = drawing.cloneNode(true) as SVGSVGElement;
  const [from, to] = [drawing.querySelectorAll("*"), copy.querySelectorAll("*")];
  from.forEach((element, at) => {
    const seen = getComputedStyle(element);
    const said = KEPT.map((name) => `${name}:${seen.getPropertyValue(name)}`).join(";");
    to[at]?.setAttribute("style", said);
    to[at]?.removeAttribute("class");
  });
  const box = drawing.getBoundingClientRect();
  const [wide, high] = [Math.round(box.width), Math.round(box.height)];
  copy.setAttribute("xmlns", "http://www.w3.org/2000/svg");
  copy.setAttribute("viewBox", `0 0 ${wide} ${high}`);
  copy.setAttribute("width", String(wide));
  copy.setAttribute("height", String(high));
  const ground = document.createElementNS("http://www.w3.org/2000/svg", "rect");
  ground.setAttribute("width", "100%");
  ground.setAttribute("height", "100%");
  ground.setAttribute("fill", getComputedStyle(document.documentElement).getPropertyValue("--panel").trim() || "#fff");
  copy.insertBefore(ground, copy.firstChild);
  return new XMLSerializer().serializeToString(copy);
}

/** The drawing in pixels, twice as many as on the screen. */
export async function pngOf(drawing: SVGSVGElement): Promise<Blob> {
  const box = drawing.getBoundingClientRect();
  const picture = new Image();
  picture.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(svgOf(drawing))}`;
  await picture.decode();
  const sheet = document.createElement("canvas");
  sheet.width = Math.round(box.width * SHARP);
  sheet.height = Math.round(box.height * SHARP);
  sheet.getContext("2d")?.drawImage(picture, 0, 0, sheet.width, sheet.height);
  return new Promise((resolve, reject) =>
    sheet.toBlob((found) => (found ? resolve(found) : reject(new Error("no picture came of it"))), "image/png"),
  );
}

export type Cell = string | number | null | undefined;

/** Rows as CSV. Text that a spreadsheet would read as a formula is escaped. */
export const csvOf = (rows: Cell[][]): string =>
  rows
    .map((row) =>
      row
        .map((cell) => {
          const text = cell == null ? "" : String(cell);
          const safe = typeof cell === "string" && /^[=+\-@\t\r]/.test(text) ? `'${text}` : text;
          return /[",\n\r]/.test(safe) ? `"${safe.replaceAll('"', '""')}"` : safe;
        })
        .join(","),
    )
    .join("\r\n");

export function save(what: Blob | string, name: string, kind = "text/plain"): void {
  const address = URL.createObjectURL(typeof what === "string" ? new Blob([what], { type: kind }) : what);
  const link = document.createElement("a");
  link.href = address;
  link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(address), 10_000);
}
