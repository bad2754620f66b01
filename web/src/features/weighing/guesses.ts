import type { Lane, Scale } from "../../api/client";
import type { Intent } from "../../components/shell";

const LAST_SCALE = "darre.scale";

/** The spool that a weigh-in is most likely for: as asked, else what is drying, else the first lane. */
export function likelySpool(intent: Intent, lanes: Lane[]): Lane | undefined {
  const asked =
    intent.kind === "start"
      ? intent.plan.lanes[intent.member]?.spool.id
      : intent.kind === "end"
        ? intent.run.spool.id
        : intent.spool;
  return lanes.find((it) => it.spool.id === asked) ?? lanes.find((it) => it.run) ?? lanes[0];
}

/** The scale used last, where it carries the spool; else the finest that does. */
export function likelyScale(scales: Scale[], lane: Lane | undefined): Scale | undefined {
  const last = Number(localStorage.getItem(LAST_SCALE));
  const gross = lane ? lane.spool.tare_g + (lane.net_g ?? 1000) : 0;
  const able = scales.filter((it) => it.max_g >= gross);
  return able.find((it) => it.id === last) ?? able[0];
}

export function rememberScale(scale: Scale) {
  localStorage.setItem(LAST_SCALE, String(scale.id));
}
