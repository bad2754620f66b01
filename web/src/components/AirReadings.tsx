import type { ReactNode } from "react";
import { fixed } from "../domain/numbers";
import { temp } from "../domain/quantities";

interface Reading {
  id: number;
  temp_c: number;
  rh_pct: number;
}

interface Props<One extends Reading> {
  readings: readonly One[];
  /** When it was read. */
  when: (one: One) => string;
  /** What takes it out, where that can still be done. */
  remove: (one: One) => ReactNode;
}

/** What somebody read of the air off a meter, one reading a row. */
export function AirReadings<One extends Reading>({ readings, when, remove }: Props<One>) {
  return (
    <ul className="mb-1 max-w-md text-sm">
      {readings.map((one) => (
        <li key={one.id} className="flex items-baseline gap-4 border-b border-line py-0.5">
          <span className="num text-muted">{when(one)}</span>
          <span className="grow num">{`${temp(one.temp_c)}, ${fixed(one.rh_pct, 0)} %`}</span>
          {remove(one)}
        </li>
      ))}
    </ul>
  );
}
