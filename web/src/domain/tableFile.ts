/** A table or a chart's numbers as a file: CSV as RFC 4180 has it, or JSON. Always in °C, g, mm and UTC, whatever the
 * screen shows, with the unit in each column's name. */

export type Cell = string | number | boolean | null;

export interface FileColumn {
  /** As programs like it, the unit at its end: "moisture_pct". */
  name: string;
  /** What stands in it, for people. */
  means: string;
}

export interface FileTable {
  /** What it is of; becomes the file's name. */
  title: string;
  columns: readonly FileColumn[];
  rows: readonly (readonly Cell[])[];
}

const FORMULA = /^[=+\-@\t\r\n']/;

function csvCell(value: Cell): string {
  if (value === null) return "";
  // A spreadsheet takes a text that begins like this for a formula.
  const text = typeof value === "string" && FORMULA.test(value) ? `'${value}` : String(value);
  return /[",\r\n]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text;
}

export const toCsv = ({ columns, rows }: FileTable): string =>
  [columns.map(({ name }) => name), ...rows].map((row) => `${row.map(csvCell).join(",")}\r\n`).join("");

export const toJson = ({ title, columns, rows }: FileTable): string =>
  `${JSON.stringify(
    {
      title,
      columns,
      rows: rows.map((row) => Object.fromEntries(columns.map(({ name }, at) => [name, row[at] ?? null]))),
    },
    null,
    1,
  )}\n`;

/** A name for the file that every system takes. */
export const fileName = (title: string, ending: string): string =>
  `${
    title
      .toLowerCase()
      .replace(/[^\p{L}\p{N}]+/gu, "-")
      .replace(/^-|-$/g, "")
      .slice(0, 60) || "table"
  }.${ending}`;
