import { lazy, type ComponentType } from "react";

const AGAIN_MS = 1000;

// Any: what a part is given is its own matter, and `lazy` asks for it in this form.
// eslint-disable-next-line @typescript-eslint/no-explicit-any
type Part = ComponentType<any>;

/** A part of the page that comes when it is opened. A network that stumbles once does not take it away. */
export function later<Name extends string, Module extends Record<Name, Part>>(
  load: () => Promise<Module>,
  name: Name,
) {
  const again = () => new Promise((resolve) => setTimeout(resolve, AGAIN_MS)).then(() => load());
  return lazy<Module[Name]>(() =>
    load()
      .catch(again)
      .then((loaded) => ({ default: loaded[name] })),
  );
}

/** Fetches a part of the page while nothing else is to do, so that it opens at once and also once the server is away. */
export function fetchWhenIdle(part: () => Promise<unknown>) {
  const load = () => {
    part().catch(() => undefined); // asked for again when the page is opened
  };
  if ("requestIdleCallback" in window) requestIdleCallback(load, { timeout: 10_000 });
  else setTimeout(load, 3000);
}
