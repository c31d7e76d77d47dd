// Cells to and from spreadsheets: tab-separated text and HTML tables on the clipboard.

const LARGEST = 60_000;

/** Rows of cells from what is on the clipboard; a table is read from HTML where there is one. */
export function readClipboard(data: DataTransfer): string[][] {
  const html = data.getData("text/html");
  if (html.includes("<table")) {
    const rows = tableRows(html);
    if (rows.length) return rows;
  }
  return readTabbed(data.getData("text/plain"));
}

function tableRows(html: string): string[][] {
  const page = new DOMParser().parseFromString(html, "text/html");
  const rows: string[][] = [];
  for (const row of page.querySelectorAll("table tr")) {
    const cells: string[] = [];
    for (const cell of row.querySelectorAll("td, th")) {
      for (const brk of cell.querySelectorAll("br")) brk.replaceWith("\n");
      cells.push((cell.textContent ?? "").replaceAll("\u00a0", " ").trim());
      for (let more = 1; more < Math.min(Number(cell.getAttribute("colspan") ?? 1), 50); more++) cells.push("");
    }
    rows.push(cells);
    if (rows.length * cells.length > LARGEST) break;
  }
  return rows;
}

/** Tab-separated text as spreadsheets write it: a cell with tabs, breaks or quotes stands in quotes, quotes doubled. */
export function readTabbed(text: string): string[][] {
  const rows: string[][] = [[]];
  let cell = "";
  let quoted = false;
  const source = text.replaceAll("\r\n", "\n").replaceAll("\r", "\n");
  const wanted = source.endsWith("\n") ? source.slice(0, -1) : source;
  const close = () => {
    rows.at(-1)?.push(cell);
    cell = "";
  };
  for (let at = 0; at < wanted.length; at++) {
    const sign = wanted[at] as string;
    if (quoted) {
      if (sign === '"' && wanted[at + 1] === '"') {
        cell += '"';
        at++;
      } else if (sign === '"') quoted = false;
      else cell += sign;
    } else if (sign === '"' && cell === "" && closes(wanted, at)) quoted = true;
    else if (sign === "\t") close();
    else if (sign === "\n") {
      close();
      rows.push([]);
    } else cell += sign;
  }
  close();
  return rows;
}

/** Whether a quote at the start of a cell has its fellow before a tab, a break or the end: else it is only a quote. */
function closes(text: string, from: number): boolean {
  for (let at = from + 1; at < text.length; at++) {
    if (text[at] !== '"') continue;
    if (text[at + 1] === '"') at++;
    else return at + 1 >= text.length || text[at + 1] === "\t" || text[at + 1] === "\n";
  }
  return false;
}

/** Rows of cells to the clipboard, both ways. */
export function writeClipboard(data: DataTransfer, rows: string[][]): void {
  data.setData("text/plain", rows.map((row) => row.map(tabbed).join("\t")).join("\n"));
  const lines = rows.map((row) => `<tr>${row.map((cell) => `<td>${escaped(cell)}</td>`).join("")}</tr>`);
  data.setData("text/html", `<table>${lines.join("")}</table>`);
}

const tabbed = (cell: string): string => (/[\t\n"]/.test(cell) ? `"${cell.replaceAll('"', '""')}"` : cell);

function escaped(text: string): string {
  return text.replaceAll("&", "&amp;").replaceAll("<", "&lt;").replaceAll(">", "&gt;").replaceAll("\n", "<br>");
}
