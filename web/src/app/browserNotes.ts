import { useSyncExternalStore } from "react";

type MoistureLevel = "granted" | "denied" | "default" | "missing";

const listeners = new Set<() => void>();
const moisture_level = (): MoistureLevel => ("Notification" in window ? Notification.permission : "missing");

async function ask() {
  if (moisture_level() === "default") await Notification.requestPermission();
  listeners.forEach((tell) => {
    tell();
  });
}

function show(text: string) {
  if (moisture_level() === "granted") new Notification("Darre", { body: text, tag: text });
}

/** The browser's own notifications: whether they are allowed, how to ask, and showing one. */
export function useBrowserNotes() {
  const allowed = useSyncExternalStore((tell) => {
    listeners.add(tell);
    return () => listeners.delete(tell);
  }, moisture_level);
  return { allowed, ask, show };
}
