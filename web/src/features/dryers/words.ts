import { hours, inCount, percent } from "../../domain/numbers";
import { temp, tempStep } from "../../domain/quantities";
import type { Built, Cell, Compared, Row, Warmth } from "./queries";

const dries = (cell: Cell) => cell.fits && cell.reaches;

/** Spools that a dryer brings to their aim, of all. */
function dried(found: Compared, at: number): number {
  return found.rows
    .filter((row) => row.cells[at] && dries(row.cells[at]))
    .reduce((sum, row) => sum + row.spools, 0);
}

/** What each dryer does for the spools there are; with one that is thought of, what that would change. */
export function dryersSentence(found: Compared): string {
  const all = found.rows.reduce((sum, row) => sum + row.spools, 0);
  if (found.dryers.length === 0) return "Add a dryer first, in Kit.";
  if (all === 0) return "No spool of yours needs a dryer.";
  if (found.gain) return gainSentence(found);
  const each = found.dryers.map((dryer, at) => ({ name: dryer.name, count: dried(found, at) }));
  each.sort((one, other) => other.count - one.count);
  const [best, ...others] = each;
  if (!best) return "";
  const rest = others.map(({ name, count }) => `${name} ${count === 0 ? "none" : inCount(count)}`).join(", ");
  const first = `${best.name} gets ${best.count === all ? `all ${inCount(all)}` : `${inCount(best.count)} of ${inCount(all)}`} spools clean`;
  return rest ? `${first}, ${rest}.` : `${first}.`;
}

function gainSentence(found: Compared): string {
  const { gain } = found;
  if (!gain) return "";
  const gained = gain.gained.reduce((sum, at) => sum + (found.rows[at]?.spools ?? 0), 0);
  const parts = [];
  if (gain.hours >= 0.5) parts.push(`save ${hours(Math.round(gain.hours))} of drying a year`);
  if (gained > 0)
    parts.push(
      `get ${inCount(gained)} ${gained === 1 ? "spool" : "spools"} clean that no dryer of yours does`,
    );
  if (parts.length === 0) return "It would save nothing: one of yours is as quick with every spool.";
  return `It would ${parts.join(" and ")}.`;
}

/** What it saves in power, and when it has paid for itself. */
export function costWords(found: Compared): string {
  const { gain, currency } = found;
  if (!gain || gain.runs === 0) return "";
  const energy = Math.abs(gain.energy_kwh);
  const change = gain.energy_kwh >= 0 ? "less" : "more";
  const money = gain.cost === null ? "" : `, ${Math.abs(gain.cost).toFixed(2)} ${currency}`;
  const paid =
    gain.years === null
      ? ""
      : gain.years > 50
        ? " In power alone it would take more than fifty years to pay for itself."
        : ` In power alone it has paid for itself in ${gain.years < 1 ? "less than a year" : `${Math.ceil(gain.years)} years`}.`;
  const times = Math.round(gain.runs);
  return `It would be the one you use for ${times} ${times === 1 ? "run" : "runs"} a year, with ${energy.toFixed(1)} kWh ${change}${money}.${paid}`;
}

/** Whom a row is about, and what it begins with. */
export function rowWords(row: Row): [string, string] {
  if (row.spool !== null) return [row.name, `${row.material_name}, now ${percent(row.from_pct)}\u00a0%`];
  const whose = row.spools === 1 ? row.name : `${inCount(row.spools)} spools`;
  return [row.material_name, `${whose}, from ${percent(row.from_pct)}\u00a0%`];
}

function timerWords(cell: Cell): string {
  if (cell.restarts === 0) return "";
  const again = `, reset the timer ${cell.restarts === 1 ? "once" : `${inCount(cell.restarts)} times`}`;
  if (cell.at_night === 0) return again;
  return `${again}, ${cell.at_night === cell.restarts ? "" : `${inCount(cell.at_night)} `}when nobody is home`;
}

/** What a dryer does for a row, and what that takes. */
export function cellWords(cell: Cell): [string, string] {
  if (!cell.fits) return ["does not fit", ""];
  if (cell.duration_h === null || cell.temp_c === null) return ["no safe heat", ""];
  if (!cell.reaches) return ["stays damp", `after ${hours(cell.duration_h)} at ${temp(cell.temp_c)}`];
  const energy = cell.energy_kwh === null ? "" : `, ${cell.energy_kwh.toFixed(1)}\u00a0kWh`;
  return [
    `${cell.is_bound ? "at least " : ""}${hours(cell.duration_h)}`,
    `at ${temp(cell.temp_c)}${energy}${timerWords(cell)}`,
  ];
}

/** The place of the dryer that is through soonest; -1 where none gets there. */
export function soonest(cells: Cell[]): number {
  return cells.reduce((best, cell, at) => {
    if (!dries(cell)) return best;
    const other = cells[best];
    return other === undefined || (cell.duration_h ?? 0) < (other.duration_h ?? 0) ? at : best;
  }, -1);
}

export const HEATERS: Record<Built["heater"], string> = {
  plate: "warm plate or mat",
  open: "open heater or coil",
  lamp: "lamp",
};

export const WALLS: Record<Built["wall"], string> = {
  plastic: "plastic tub, 3 mm",
  card: "corrugated card, 5 mm",
  wood: "plywood, 12 mm",
  foam: "foam board, 25 mm",
  metal: "sheet metal",
};

/** How warm a box of one’s own gets, and what speaks against it. */
export function warmthWords(found: Warmth): string {
  const air = `It comes to about ${temp(Math.round(found.air_c))} (${temp(Math.round(found.low_c))} to ${temp(Math.round(found.high_c))}) in a room of ${temp(Math.round(found.room_c))}`;
  const side = `the side of the spool near the heater to ${tempStep(Math.round(found.hot_side_excess_c))} more`;
  const harms =
    found.harms_wall && found.stands_c !== null
      ? ` That may be too hot for its own wall, which takes about ${temp(found.stands_c)}: use less power.`
      : "";
  return `${air}, ${side}.${harms}`;
}
