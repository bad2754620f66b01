import { Disclosure, DisclosureButton, DisclosurePanel } from "@headlessui/react";
import { bisectCenter } from "d3-array";
import { useMemo, useState } from "react";
import { percent } from "../domain/numbers";
import { standingLink } from "../components/classes";
import { type CoursePoint, frameOf, type Mark, type Moment, type Seen } from "./course";
import { Axes, Band, Curve, Hand, MarkLines, MomentLines, Names, SeenPoints } from "./courseLayers";
import { namesOf } from "./courseNames";
import { SaveTable } from "../components/SaveTable";
import { courseTable } from "./tables";
import { useWidth } from "./useWidth";

interface Props {
  label: string;
  /** The course as it is believed; its band is filled. */
  course: CoursePoint[];
  /** A second course to compare with, as a thin line. */
  beside?: { name: string; course: CoursePoint[] };
  seen?: Seen[];
  marks: Mark[];
  moments: Moment[];
  /** How an hour after the start is written on the axis. */
  tick: (hours: number) => string;
  axis: string;
  height: number;
}

const NOTHING_SEEN: Seen[] = [];

/** Remaining water over time: band and line of the course, marks, weigh-ins, and a hand to read values off. */
export function CourseChart(props: Props) {
  const { label, course, beside, seen = NOTHING_SEEN, marks, moments, tick, axis, height } = props;
  const { ref, width } = useWidth<HTMLDivElement>(700);
  const [hand, setHand] = useState<number | null>(null);
  const frame = useMemo(
    () => frameOf(width, height, { course, beside: beside?.course ?? [], seen, marks }),
    [width, height, course, beside, seen, marks],
  );
  // A handful of names against a few hundred boxes, but not at every move of the pointer.
  const names = useMemo(
    () => namesOf(frame, { curves: [course, beside?.course ?? []], beside, seen, marks, moments }),
    [frame, course, beside, seen, marks, moments],
  );
  const times = course.map((p) => p.time);
  const end = times.at(-1) ?? 1;
  const read = hand === null ? undefined : course[bisectCenter(times, hand)];

  return (
    <figure>
      <div ref={ref}>
        <svg
          width={width}
          height={height}
          role="img"
          aria-label={label}
          className="block overflow-visible"
          onPointerMove={(event) => {
            const box = event.currentTarget.getBoundingClientRect();
            setHand(Math.min(Math.max(frame.x.invert(event.clientX - box.left), 0), end));
          }}
          onPointerLeave={() => {
            setHand(null);
          }}
        >
          <Axes frame={frame} tick={tick} />
          <Band frame={frame} course={course} />
          <MomentLines frame={frame} moments={moments} />
          {beside && <Curve frame={frame} course={beside.course} thin />}
          <Curve frame={frame} course={course} />
          <MarkLines frame={frame} marks={marks} />
          <SeenPoints frame={frame} seen={seen} />
          <Names names={names} />
          {read && <Hand frame={frame} point={read} />}
        </svg>
      </div>
      <div className="flex flex-wrap items-center gap-x-3 pl-[44px] text-sm print:hidden">
        <input
          type="range"
          aria-label={`Read the curve: ${axis}`}
          aria-valuetext={read ? `${tick(read.time)}: ${percent(read.mean)} %` : "not set"}
          className="h-5 w-40 shrink-0 accent-ink"
          min={0}
          max={end}
          step={end / 96}
          value={hand ?? 0}
          onChange={(event) => {
            setHand(Number(event.target.value));
          }}
        />
        {read ? (
          <span className="num">
            {tick(read.time)}: {percent(read.mean)} % ({percent(read.low)} to {percent(read.high)})
          </span>
        ) : (
          <span className="text-muted">{axis}; slide or point to read values</span>
        )}
      </div>
      <Disclosure>
        <DisclosureButton className={`${standingLink} ml-[44px] text-sm text-muted print:hidden`}>
          as a table
        </DisclosureButton>
        <DisclosurePanel className="max-h-64 overflow-auto">
          <CourseTable label={label} axis={axis} tick={tick} course={course} />
          <SaveTable table={() => courseTable(label, course, seen)} />
        </DisclosurePanel>
      </Disclosure>
    </figure>
  );
}

function CourseTable({ label, axis, tick, course }: Pick<Props, "label" | "axis" | "tick" | "course">) {
  const every = Math.max(1, Math.floor(course.length / 12));
  return (
    <table className="mt-1 w-full bg-paper text-left num text-sm">
      <caption className="sr-only">{label}</caption>
      <thead>
        <tr>
          <th className="px-2 font-normal">{axis}</th>
          <th className="px-2 font-normal">water, %</th>
          <th className="px-2 font-normal">9 cases in 10, %</th>
        </tr>
      </thead>
      <tbody>
        {course
          .filter((_, index) => index % every === 0)
          .map((point) => (
            <tr key={point.time} className="border-t border-line">
              <td className="px-2">{tick(point.time)}</td>
              <td className="px-2">{percent(point.mean)}</td>
              <td className="px-2">
                {percent(point.low)} to {percent(point.high)}
              </td>
            </tr>
          ))}
      </tbody>
    </table>
  );
}
