import { Link } from "react-router";
import type { Lane } from "../../api/client";
import { WaterBar } from "../../charts/WaterBar";
import { likewise, percent } from "../../format/numbers";
import { useShell } from "../../shell/shell";
import { nextAct, whereabouts } from "../../words/lanes";

/** A spool's lane: who it is, its waterline against its marks, and the next act. */
export function LaneRow({ lane, now }: { lane: Lane; now: Date }) {
  const { lookAt } = useShell();
  const { spool, moisture } = lane;
  const next = nextAct(lane, now);
  const to = lane.run ? `/runs/${lane.run.id}` : `/plan?spool=${spool.id}`;
  return (
    <li
      className="relative grid grid-cols-[1fr_auto] grid-rows-[auto_2rem_auto] bg-paper focus-within:outline-3 focus-within:outline-ink lane:grid-cols-[13rem_6rem_1fr_17rem] lane:grid-rows-[51px]"
      onFocus={() => {
        lookAt(spool.id);
      }}
      onPointerEnter={() => {
        lookAt(spool.id);
      }}
    >
      <div className="min-w-0 px-3 py-1 leading-tight lane:self-center">
        <Link to={to} className="font-bold outline-none after:absolute after:inset-0 after:z-1">
          {spool.name}
        </Link>
        <p className="truncate text-[13px] text-muted">
          {lane.material_short} · {whereabouts(lane, now)}
        </p>
      </div>
      <p className="px-3 py-1 text-right leading-tight whitespace-nowrap lane:self-center">
        <span className="num font-bold">{percent(moisture.value)}</span> <span className="text-muted">%</span>
        <span className="block num text-[13px] text-muted">
          ± {likewise(moisture.plus_minus, moisture.value)}
        </span>
      </p>
      <div className="relative col-span-2 lane:col-span-1">
        {lane.clean_pct !== null && lane.trouble_pct !== null && (
          <WaterBar
            moisture={moisture.value}
            plusMinus={moisture.plus_minus}
            clean={lane.clean_pct}
            trouble={lane.trouble_pct}
          />
        )}
      </div>
      <div className="col-span-2 flex flex-wrap items-baseline gap-x-2 px-3 py-1 leading-tight lane:col-span-1 lane:block lane:self-center">
        <p className={next.strong ? "font-bold" : ""}>{next.act}</p>
        <p className="text-[13px] text-muted">{next.why}</p>
      </div>
    </li>
  );
}
