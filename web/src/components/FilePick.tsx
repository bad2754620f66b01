import { useId } from "react";
import { Button } from "./Button";
import { quiet } from "./classes";

interface Props {
  label: string;
  accept: string;
  /** How far it is, 0 to 1; null while nothing is being sent. */
  share: number | null;
  error: string | undefined;
  onFile: (file: File) => void;
  onStop: () => void;
}

/** A file to send: chosen with a button, with its progress, a way to stop, and what was wrong with it. */
export function FilePick({ label, accept, share, error, onFile, onStop }: Props) {
  const id = useId();
  return (
    <div>
      {share === null ? (
        <>
          <input
            id={id}
            type="file"
            accept={accept}
            className="peer sr-only"
            onChange={(event) => {
              const [file] = event.target.files ?? [];
              event.target.value = "";
              if (file) onFile(file);
            }}
          />
          <label
            htmlFor={id}
            className={`${quiet} cursor-pointer px-2.5 py-1 text-sm peer-focus-visible:outline-3 peer-focus-visible:outline-offset-2`}
          >
            {label}
          </label>
        </>
      ) : (
        <p className="flex items-center gap-3 text-sm">
          <progress className="h-2 w-40" value={share} aria-label="Sent so far" />
          <span className="num">{Math.round(100 * share)} %</span>
          <Button kind="link" onClick={onStop}>
            stop
          </Button>
        </p>
      )}
      {error !== undefined && (
        <p role="alert" className="mt-1 text-sm font-bold text-heat">
          {error}
        </p>
      )}
    </div>
  );
}
