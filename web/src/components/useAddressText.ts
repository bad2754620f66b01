import { useCallback, useState } from "react";
import { useAddress } from "./useAddress";

/** Typed text that is kept in the address. The field itself never waits for the address: what is typed fast stays. */
export function useAddressText(name: string): [string, (text: string) => void] {
  const [kept, keep] = useAddress(name, "");
  const [text, setText] = useState(kept);
  const type = useCallback(
    (next: string) => {
      setText(next);
      keep(next);
    },
    [keep],
  );
  return [text, type];
}
