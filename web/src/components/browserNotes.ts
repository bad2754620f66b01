import { useSyncExternalStore } from "react";

type Permission = "granted" | "denied" | "default" | "missing";

const listeners = new Set<() => void>();
const permission = (): Permission => ("Notification" in window ? Notification.permission : "missing");

async function ask() {
  if (permission() === "default") await Notification.requestPermission();
  listeners.forEach((tell) => {
    tell();
  });
}

/** Shows a notification of the browser's own, where they are allowed. */
export function showBrowserNote(text: string) {
  if (permission() === "granted") new Notification("Darre", { body: text, tag: text });
}

/** The browser's own notifications: whether they are allowed, and how to ask. */
export function useBrowserNotes() {
  const allowed = useSyncExternalStore((tell) => {
    listeners.add(tell);
    return () => listeners.delete(tell);
  }, permission);
  return { allowed, ask };
}
