import { useShell } from "../../components/shell";
import { type Act, isForLater, keepForLater } from "./outbox";

export const WHERE_KEPT = "saved in this browser and will be sent";
export const KEPT_NOWHERE = "kept only while this page is open, as this browser stores nothing: note it down";

/** Tries an act; where the server is away, it is kept in this browser, said so, and sent later. Throws what the server
 * refuses. Resolves to null where it waits. */
export function useOrLater() {
  const { notify } = useShell();
  return async function orLater<Answer>(
    act: () => Promise<Answer>,
    later: Act,
    told: string,
  ): Promise<Answer | null> {
    try {
      return await act();
    } catch (error) {
      if (!isForLater(error)) throw error;
      const where = keepForLater({ ...later, told }) ? WHERE_KEPT : KEPT_NOWHERE;
      notify({ text: `Darre does not answer. ${told} is ${where}.`, undo: null });
      return null;
    }
  };
}
