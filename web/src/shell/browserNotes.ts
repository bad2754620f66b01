import { useSyncExternalStore } from "react";

type Standing = "granted" | "denied" | "default" | "missing";

const listeners = new Set<() => void>();
const standing = (): Standing => ("Notification" in window ? Notification.permission : "missing");

async function ask() {
  if (standing() === "default") await Notification.requestPermission();
  listeners.forEach((tell) => {
    tell();
  });
}

function show(text: string) {
  if (standing() === "granted") new Notification("Darre", { body: text, tag: text });
}

/** The browser's own notifications: whether they are allowed, how to ask, and showing one. */
export function useBrowserNotes() {
  const allowed = useSyncExternalStore((tell) => {
    listeners.add(tell);
    return () => listeners.delete(tell);
  }, standing);
  return { allowed, ask, show };
}
