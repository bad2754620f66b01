/** "A", "A and B", "A, B and C". */
export const listed = (names: readonly string[]): string =>
  names.length < 2 ? names.join("") : `${names.slice(0, -1).join(", ")} and ${names.at(-1) ?? ""}`;

/** The words as they begin a sentence: "beads" → "Beads". */
export const sentence = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);
