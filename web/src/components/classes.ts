/** Shared looks of controls. Square edges, quiet lines, nothing that shines. */

const control =
  "inline-flex items-center gap-2 border-2 px-3 py-2 text-[15px] font-bold max-sm:min-h-11 disabled:cursor-not-allowed disabled:opacity-50";

export const primary = `${control} border-ink bg-ink text-paper data-hover:opacity-90`;
export const quiet = `${control} border-ink bg-transparent text-ink data-hover:bg-paper`;
export const field =
  "w-full border-2 border-line bg-paper px-2 py-1.5 text-ink data-focus:border-ink aria-invalid:border-heat";
export const panel = "bg-paper p-4";
export const link = "underline underline-offset-2";
/** A link that stands by itself and not within a sentence: high enough for a finger. */
export const standingLink = `${link} inline-flex min-h-6 min-w-6 items-center text-left max-sm:min-h-11 max-sm:min-w-11`;
