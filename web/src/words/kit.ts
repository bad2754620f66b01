import type { Device, Dryer } from "../api/client";
import { fixed } from "../format/numbers";
import { temp, tempStep } from "../format/quantities";

export const DEVICE_WORDS: Record<Device["kind"], string> = {
  logger: "temperature and humidity logger",
  scale: "scale",
  meter: "energy meter",
  dryer: "dryer’s own display",
};

/** The sentence that answers: what does this dryer really do? */
export function kitSentence(dryer: Dryer): string {
  const { dial, name } = dryer;
  if (dryer.kind === "vacuum") return `${name} keeps dry spools; it does not heat.`;
  if (dial.kind === "levels") return `${name} has levels; each stands for the air that it gives.`;
  if (dial.kind === "bed") {
    const share = fixed((dial.factor ?? 0) * 100, 0);
    const doubt = fixed((dial.factor_plus_minus ?? 0) * 100, 0);
    const source = dial.pairs === 0 ? ", as beds commonly do: no probe pair yet" : "";
    return `${name}: the air gets ${share} ± ${doubt} % of the bed’s warmth over the room${source}.`;
  }
  const middle = dial.points[Math.floor(dial.points.length / 2)];
  const offset = dial.offset_c ?? 0;
  const doubt = middle ? ` ± ${tempStep(middle.plus_minus_c)}` : "";
  if (dial.pairs === 0) {
    return dryer.display_offset_c === null
      ? `${name}: nobody has checked its display; the air may be off by ${doubt.replace(" ± ", "")}.`
      : `${name} reads ${about(offset)}, as you gave it.`;
  }
  return `${name} reads ${about(offset)}${doubt}: set it to ${temp(Math.round(55 + offset))} for ${temp(55)} at the spool.`;
}

function about(offset: number): string {
  if (Math.abs(offset) < 0.5) return "true";
  return `${tempStep(Math.abs(offset))} too ${offset > 0 ? "high" : "low"}`;
}
