/** Shared looks of controls. Square edges, quiet lines, nothing that shines. */

const control =
  "inline-flex items-center gap-2 border-2 px-3 py-2 text-[15px] font-bold disabled:cursor-not-allowed disabled:opacity-50";

export const primary = `${control} border-ink bg-ink text-paper data-hover:opacity-90`;
export const quiet = `${control} border-ink bg-transparent text-ink data-hover:bg-paper`;
export const field =
  "w-full border-2 border-line bg-paper px-2 py-1.5 text-ink data-focus:border-ink aria-invalid:border-heat";
export const panel = "bg-paper p-4";
export const link = "underline underline-offset-2";
