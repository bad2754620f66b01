import { useCallback } from "react";
import { useSearchParams } from "react-router";

/** A part of a page's state that is kept in its address, so that reload and back keep it. The usual value is left out
 * of the address. */
export function useAddress<Value extends string = string>(
  name: string,
  usual: NoInfer<Value>,
  allowed?: readonly Value[],
): [Value, (value: Value) => void] {
  const [params, setParams] = useSearchParams();
  const found = params.get(name) as Value | null;
  const value = found === null || (allowed && !allowed.includes(found)) ? usual : found;
  const choose = useCallback(
    (next: Value) => {
      setParams(
        (before) => {
          const after = new URLSearchParams(before);
          if (next === usual) after.delete(name);
          else after.set(name, next);
          return after;
        },
        { replace: true },
      );
    },
    [name, usual, setParams],
  );
  return [value, choose];
}
