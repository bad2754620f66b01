import { useKeydown } from "../components/useKeydown";

/** Single keys as acts, from anywhere but a field, an open dialog or a menu. */
export function useKeys(acts: Record<string, () => void>) {
  useKeydown((event) => {
    if (event.ctrlKey || event.metaKey || event.altKey || event.defaultPrevented) return;
    const from = event.target instanceof HTMLElement ? event.target : null;
    if (from?.closest("input:not([type=range]), textarea, select, [role=menu], [role=listbox]")) return;
    if (document.querySelector("[role=dialog]")) return;
    const act = acts[event.key.length === 1 ? event.key.toLowerCase() : event.key];
    if (!act) return;
    event.preventDefault();
    act();
  });
}
