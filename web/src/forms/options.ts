/** The words for each value of an enumeration as options of a choice. */
export const optionsOf = <Key extends string>(words: Record<Key, string>) =>
  (Object.entries(words) as [Key, string][]).map(([value, name]) => ({ value, name }));

export const YES_NO = optionsOf({ yes: "yes", no: "no" });
export const YES_NO_UNKNOWN = optionsOf({ yes: "yes", no: "no", unknown: "?" });
