import type { Lane, Scale } from "../../api/client";
import type { Intent } from "../../components/shell";
import { keep, kept } from "../../domain/storage";

const LAST_SCALE = "darre.scale";

/** The spools whose last mass fits a reading, g. */
export const fitting = (lanes: readonly Lane[], gross: number | null): Lane[] =>
  gross === null
    ? []
    : lanes.filter(({ explained: by }) => by !== null && Math.abs(gross - by.expected_g) <= by.near_g);

/** The spool that a weighing is for: as asked, else the only one there is, or that the reading fits. Where it fits two,
 * or none of several, nobody guesses. */
export function likelySpool(intent: Intent, lanes: Lane[], gross: number | null): Lane | undefined {
  const asked =
    intent.kind === "start"
      ? intent.plan.lanes[0]?.spool.id
      : intent.kind === "end"
        ? intent.run.spool.id
        : intent.spool;
  if (asked !== undefined) return lanes.find((lane) => lane.spool.id === asked);
  const [only, ...others] = lanes.length === 1 ? lanes : fitting(lanes, gross);
  return others.length === 0 ? only : undefined;
}

/** The scale used last, where it carries the spool; else the finest that does. */
export function likelyScale(scales: Scale[], lane: Lane | undefined): Scale | undefined {
  const last = Number(kept(LAST_SCALE));
  const gross = lane ? lane.spool.tare_g + (lane.net_g ?? 1000) : 0;
  const able = scales.filter((scale) => scale.max_g >= gross);
  return able.find((scale) => scale.id === last) ?? able[0];
}

export function rememberScale(scale: Scale) {
  keep(LAST_SCALE, String(scale.id));
}
