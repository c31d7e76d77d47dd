// The table formats: what the server writes (`formats/table_formats`) and reads (`formats/tables`).

export const WRITTEN_FORMATS = [
  ["csv", "CSV", "opens in every spreadsheet"],
  ["tsv", "TSV", "tabs between the cells"],
  ["xlsx", "XLSX", "a workbook, numbers as numbers"],
  ["json", "JSON", "a list with an object for each card"],
] as const;

/** For the file dialog of the browser. */
export const READ_FORMATS = ".csv,.tsv,.txt,.tab,.xlsx,.json,text/csv,text/plain,application/json";
