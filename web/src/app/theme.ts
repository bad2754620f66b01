import { useSyncExternalStore } from "react";
import { keep, kept as stored } from "../domain/storage";

export type Theme = "as the system" | "light" | "dark";
export const THEMES: readonly Theme[] = ["as the system", "light", "dark"];

const KEY = "darre.theme";
const system = window.matchMedia("(prefers-color-scheme: dark)");
const listeners = new Set<() => void>();

function kept(): Theme {
  const value = stored(KEY);
  return value === "light" || value === "dark" ? value : "as the system";
}

/** Put the chosen theme on the page; the styles read it from there. */
export function applyTheme() {
  const theme = kept();
  const dark = theme === "dark" || (theme === "as the system" && system.matches);
  document.documentElement.dataset.theme = dark ? "dark" : "light";
}

export function chooseTheme(theme: Theme) {
  keep(KEY, theme);
  applyTheme();
  listeners.forEach((tell) => {
    tell();
  });
}

system.addEventListener("change", applyTheme);

export const useTheme = () =>
  useSyncExternalStore((tell) => {
    listeners.add(tell);
    return () => listeners.delete(tell);
  }, kept);
