import { Link } from "react-router";
import type { Traced } from "../../api/client";
import { LaneTrace } from "../../charts/LaneTrace";
import { likewise, percent } from "../../domain/numbers";
import { useShell } from "../../components/shell";
import { nextActWords, whereabouts } from "./words";

export const LANE_HEIGHT = 54;
export const LANE_GAP = 6;
/** On a phone a lane has its name over its trace and its act below. */
export const NARROW_HEIGHT = 122;

/** By thumb, all of the part of the lane that a link stands in is the link. */
const BY_THUMB = "max-lane:after:absolute max-lane:after:inset-0";

interface Props {
  traced: Traced;
  start: number;
  stepH: number;
  now: Date;
  width: number;
  wanted: Date | null;
}

/** A spool's lane: who it is, its moisture through time, and the next act. */
export function LaneRow({ traced, start, stepH, now, width, wanted }: Props) {
  const { lookAt } = useShell();
  const { lane } = traced;
  const { spool, moisture } = lane;
  const next = nextActWords(traced, now, wanted);
  const to = lane.run ? `/runs/${lane.run.id}` : `/plan?spool=${spool.id}`;
  const look = () => {
    lookAt(spool.id);
  };
  return (
    <li
      className="grid h-[116px] grid-cols-1 grid-rows-[44px_28px_44px] bg-paper focus-within:outline-3 focus-within:outline-ink lane:h-[54px] lane:grid-cols-[15rem_1fr_15rem] lane:grid-rows-1"
      onFocus={look}
      onPointerEnter={look}
    >
      <div className="relative flex min-w-0 items-baseline justify-between gap-2 px-3 pt-1 leading-tight lane:self-center lane:pt-0">
        <div className="min-w-0">
          <Link
            to={`/spools/${spool.id}`}
            data-lane={spool.id}
            className={`font-bold outline-none ${BY_THUMB}`}
          >
            {spool.name}
          </Link>
          <p className="truncate text-[13px] text-muted">
            {lane.material_short} · {whereabouts(lane, now)}
          </p>
        </div>
        <p className="text-right whitespace-nowrap">
          <span className="num font-bold">{percent(moisture.value)}</span>{" "}
          <span className="text-muted">%</span>
          <span className="block num text-[13px] text-muted">
            ± {likewise(moisture.plus_minus, moisture.value)}
          </span>
        </p>
      </div>
      <div className="min-w-0 overflow-hidden lane:row-auto">
        <LaneTrace
          traced={traced}
          start={start}
          stepH={stepH}
          now={now.getTime()}
          width={width}
          height={width < 500 ? 28 : LANE_HEIGHT}
        />
      </div>
      <div className="relative flex min-w-0 flex-wrap content-center items-baseline gap-x-2 overflow-hidden px-3 pb-1 leading-tight lane:block lane:self-center lane:pb-0">
        <Link
          to={to}
          tabIndex={-1}
          className={`whitespace-nowrap no-underline hover:underline lane:whitespace-normal ${BY_THUMB} ${next.strong ? "font-bold" : ""}`}
        >
          {next.act}
        </Link>
        <p className="text-[13px] text-muted">{next.why}</p>
      </div>
    </li>
  );
}
