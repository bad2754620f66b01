import type { components } from "../api/schema";
import { Choice } from "./Choice";

type Order = components["schemas"]["OrderEnum"];

const ORDERS: { value: Order; name: string }[] = [
  { value: "iso", name: "year first" },
  { value: "day first", name: "day first" },
  { value: "month first", name: "month first" },
];

/** How the dates of a table are written, where the guess is to be put right. */
export function DateOrder({ value, onChoose }: { value: Order; onChoose: (order: Order) => void }) {
  return (
    <div className="mt-3 max-w-md">
      <Choice
        across
        label="The dates are written with the"
        value={value}
        options={ORDERS}
        onChoose={onChoose}
      />
    </div>
  );
}
