import type { Device, Dryer, Scale } from "../../api/client";
import { fixed } from "../../domain/numbers";
import { massAsRead, temp, tempStep } from "../../domain/quantities";

export const DEVICE_WORDS: Record<Device["kind"], string> = {
  logger: "temperature and humidity logger",
  scale: "scale",
  meter: "energy meter",
  dryer: "dryer’s own display",
};

/** The sentence that answers: what does this dryer really do? */
export function kitSentence(dryer: Dryer): string {
  const { calibration, name } = dryer;
  if (!dryer.in_service) return `${name} is out of service: nothing is planned for it.`;
  if (dryer.kind === "vacuum") return `${name} keeps spools dry; it does not heat.`;
  if (calibration.kind === "levels") return `${name} has levels; each gives its own air temperature.`;
  if (calibration.kind === "bed") {
    const share = fixed((calibration.factor ?? 0) * 100, 0);
    const doubt = fixed((calibration.factor_plus_minus ?? 0) * 100, 0);
    const source = calibration.pairs === 0 ? ", which is typical: no probe pair yet" : "";
    return `${name}: the air gets ${share} ± ${doubt} % of the bed’s warmth over the room${source}.`;
  }
  const middle = calibration.points[Math.floor(calibration.points.length / 2)];
  const offset = calibration.offset_c ?? 0;
  const doubt = middle ? ` ± ${tempStep(middle.plus_minus_c)}` : "";
  if (calibration.pairs === 0) {
    return dryer.display_offset_c === null
      ? `The display of ${name} has not been checked; the air may be off by ${doubt.replace(" ± ", "")}.`
      : `${name} reads ${about(offset)}, as you entered it.`;
  }
  return `${name} reads ${about(offset)}${doubt}: set it to ${temp(Math.round(55 + offset))} for ${temp(55)} at the spool.`;
}

function about(offset: number): string {
  if (Math.abs(offset) < 0.5) return "true";
  return `${tempStep(Math.abs(offset))} too ${offset > 0 ? "high" : "low"}`;
}

/** Scales to choose from, with what each shows. */
export const scaleOptions = (scales: readonly Scale[]) =>
  scales.map(({ id, name, resolution_g }) => ({
    value: id,
    name,
    note: `shows ${massAsRead(resolution_g)}`,
  }));
