import { Button } from "./Button";
import { fileName, type FileTable, toCsv, toJson } from "../domain/tableFile";

const KINDS = {
  csv: { write: toCsv, type: "text/csv;charset=utf-8" },
  json: { write: toJson, type: "application/json" },
} as const;

function save(table: FileTable, kind: keyof typeof KINDS) {
  const { write, type } = KINDS[kind];
  const address = URL.createObjectURL(new Blob([write(table)], { type }));
  const anchor = document.createElement("a");
  anchor.href = address;
  anchor.download = fileName(table.title, kind);
  anchor.click();
  URL.revokeObjectURL(address);
}

interface Props {
  /** Made when it is saved. */
  table: () => FileTable;
  className?: string;
}

/** Takes what a chart or a list shows along as a file. */
export function SaveTable({ table, className = "" }: Props) {
  return (
    <p className={`flex items-center gap-3 text-sm text-muted print:hidden ${className}`}>
      save as
      <Button
        kind="link"
        onClick={() => {
          save(table(), "csv");
        }}
      >
        CSV
      </Button>
      <Button
        kind="link"
        onClick={() => {
          save(table(), "json");
        }}
      >
        JSON
      </Button>
    </p>
  );
}
