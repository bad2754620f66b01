import { createContext, use } from "react";

/** The person's units as one word: whoever reads it is drawn again when they change. */
export const UnitsContext = createContext("");

export const useUnits = (): string => use(UnitsContext);
