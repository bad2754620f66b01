import { toLocalField } from "../domain/times";
import { Button } from "./Button";
import { Field } from "./Field";

interface Props {
  /** What happened, as a word before the time: "Moved". */
  what: string;
  /** The words while it is now. */
  now: string;
  /** What the date-and-time field holds; null while it is now. */
  at: string | null;
  error?: string | undefined;
  onAt: (at: string) => void;
}

/** When something happened: just now, unless the person says when. */
export function JustNow({ what, now, at, error, onAt }: Props) {
  if (at === null)
    return (
      <Button
        kind="link"
        className="self-start text-sm"
        onClick={() => {
          onAt(toLocalField(new Date()));
        }}
      >
        {now}; change the time
      </Button>
    );
  return (
    <Field
      label={`${what} at, by this device’s clock`}
      type="datetime-local"
      value={at}
      error={error}
      onText={onAt}
    />
  );
}
