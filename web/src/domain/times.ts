/** Moments and spans of time. The server speaks in instants; the person's own clock is applied here alone. */
import { units } from "./units";

const HOUR = 3_600_000;
const DAY = 24 * HOUR;
const clockFormats = {
  "24": new Intl.DateTimeFormat("en-GB", { hour: "2-digit", minute: "2-digit" }),
  "12": new Intl.DateTimeFormat("en-GB", { hour: "numeric", minute: "2-digit", hour12: true }),
};
const weekdayFormat = new Intl.DateTimeFormat("en-GB", { weekday: "short" });
const dateFormat = new Intl.DateTimeFormat("en-GB", { day: "numeric", month: "short" });

/** The zone of the person's own clock, such as "Europe/London". */
export const zone = Intl.DateTimeFormat().resolvedOptions().timeZone;

/** "23:30", or "11:30 pm" */
export const clock = (at: Date): string => clockFormats[units().clock].format(at);

/** "23:30" today, "Wed 23:30" within six days, "12 Nov 23:30" else. */
export function when(at: Date, now: Date): string {
  const apart = Math.abs(at.getTime() - now.getTime());
  if (apart < DAY && at.getDate() === now.getDate()) return clock(at);
  return `${(apart < 6 * DAY ? weekdayFormat : dateFormat).format(at)} ${clock(at)}`;
}

/** "26 Nov 2026 23:30": for paper, which is read on another day. */
export const day = (at: Date): string => `${dateFormat.format(at)} ${at.getFullYear()} ${clock(at)}`;

/** `hours` after an instant; an instant, so a change of the clocks in between does not matter. */
export const later = (at: Date, hours: number): Date => new Date(at.getTime() + hours * HOUR);

/** "10 d", "6 h", "5 min" since an instant. */
export function since(at: Date, now: Date): string {
  const gone = Math.max(0, now.getTime() - at.getTime());
  if (gone >= 2 * DAY) return `${Math.round(gone / DAY)} d`;
  if (gone >= HOUR) return `${Math.round(gone / HOUR)} h`;
  return `${Math.round(gone / 60_000)} min`;
}

/** What a date-and-time field shows for an instant, by the person's own clock. */
export function toLocalField(at: Date): string {
  const local = new Date(at.getTime() - at.getTimezoneOffset() * 60_000);
  return local.toISOString().slice(0, 16);
}

const WHOLE_MOMENT = /^\d{4}-\d{2}-\d{2}T\d{2}:\d{2}/;

/** The instant a date-and-time field means, with its zone offset; null while it is not a date. */
export function fromLocalField(text: string): string | null {
  const at = new Date(WHOLE_MOMENT.test(text) ? text : "");
  return Number.isNaN(at.getTime()) ? null : at.toISOString();
}

/** The instant that a date-and-time field means, which shows whole minutes: one that was not touched keeps its seconds. */
export const withSeconds = <At extends string | null>(at: At, was: At): At =>
  at !== null && was !== null && toLocalField(new Date(at)) === toLocalField(new Date(was)) ? was : at;

/** An instant with the offset of the person's clock, so that the server knows which hours of the day it means. */
export function withOffset(at: Date): string {
  const minutes = -at.getTimezoneOffset();
  const two = (value: number) => String(Math.floor(Math.abs(value))).padStart(2, "0");
  const sign = minutes < 0 ? "-" : "+";
  return `${toLocalField(at)}:00${sign}${two(Math.abs(minutes) / 60)}:${two(Math.abs(minutes) % 60)}`;
}

/** "05:30" for a minute of the day, as a time field has it. */
export const minuteToField = (minute: number): string =>
  `${String(Math.floor(minute / 60)).padStart(2, "0")}:${String(minute % 60).padStart(2, "0")}`;

/** The minute of the day that a time field shows; null while it is not a time. */
export function fieldToMinute(text: string): number | null {
  const parts = /^(\d{1,2}):(\d{2})$/.exec(text);
  return parts ? Number(parts[1]) * 60 + Number(parts[2]) : null;
}
