import { useState } from "react";
import type { PrintFile } from "../../api/client";
import { Button } from "../../components/Button";
import { massAsRead, massPlusMinus } from "../../domain/quantities";
import { FileToRead } from "../cases/FileToRead";
import type { components } from "../../api/schema";

type PrintTakes = components["schemas"]["Takes"];

interface Props {
  takes: PrintTakes | undefined;
  file: PrintFile | null;
  onFile: (file: PrintFile) => void;
}

/** The print that a spool is wanted for: its file tells how much it takes, and whether that much is on the spool. */
export function PrintWanted({ takes, file, onFile }: Props) {
  const [open, setOpen] = useState(false);
  if (!open)
    return (
      <Button
        kind="link"
        className="self-start text-sm"
        onClick={() => {
          setOpen(true);
        }}
      >
        for a print whose file you have
      </Button>
    );
  return (
    <>
      <FileToRead file={file} onFile={onFile} />
      {file && takes && <Takes takes={takes} />}
    </>
  );
}

function Takes({ takes: { mass_g, left_g, enough } }: { takes: PrintTakes }) {
  const left =
    left_g === null
      ? "How much is on it was never weighed."
      : enough
        ? `There are ${massAsRead(Math.round(left_g))} on it.`
        : `Only ${massAsRead(Math.round(left_g))} are on it.`;
  return (
    <p role="status" className={enough || left_g === null ? "text-sm" : "text-sm font-bold text-heat"}>
      It takes {massPlusMinus(mass_g.value, mass_g.plus_minus, 0)}. {left}
    </p>
  );
}
