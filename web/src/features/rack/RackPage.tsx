import { rackTable } from "../../charts/tables";
import { SaveTable } from "../../components/SaveTable";
import { useQuery } from "@tanstack/react-query";
import { Suspense, useEffect, useRef, useState } from "react";
import { Link, useLocation } from "react-router";
import type { Rack } from "../../api/client";
import { rack as rackQuery, type Span } from "./queries";
import { room as roomQuery } from "../storage/queries";
import { DewPointTrace } from "../../charts/DewPointTrace";
import { axisTicks } from "../../charts/laneTrace";
import { useWidth } from "../../charts/useWidth";
import { Button } from "../../components/Button";
import { FIND_ID, useShell } from "../../components/shell";
import { PageHeading } from "../../components/PageHeading";
import { useAddress } from "../../components/useAddress";
import { useAddressText } from "../../components/useAddressText";
import { Choice } from "../../components/Choice";
import { Picker } from "../../components/Picker";
import { Skeleton } from "../../components/Skeleton";
import { Trouble } from "../../components/Trouble";
import { field, standingLink } from "../../components/classes";
import { answersTo, dewWords, inOrder, type Order, rackSentence } from "./words";
import { LANE_GAP, LANE_HEIGHT, LaneRow, NARROW_HEIGHT } from "./LaneRow";
import { OffTheRack } from "./OffTheRack";
import { useSeen } from "./useSeen";

import { FirstWorkshop, NewSpool } from "../../app/rooms";

const SPANS: { value: Span; name: string }[] = [
  { value: "day", name: "day" },
  { value: "week", name: "week" },
  { value: "weeks", name: "3 weeks" },
  { value: "season", name: "season" },
];
const ORDERS: { value: Order; name: string }[] = [
  { value: "wettest", name: "wettest first" },
  { value: "name", name: "by name" },
  { value: "place", name: "by place" },
  { value: "next", name: "by next act" },
];
const SIDES = 480;

/** Home: every spool as a lane through time, wettest against its own thresholds first. */
export function RackPage() {
  const [span, setSpan] = useAddress<Span>("span", "weeks", ["day", "week", "weeks", "season"]);
  const { data: rack, error, refetch } = useQuery(rackQuery(span));
  const room = useQuery(roomQuery);
  if (error && !rack) return <Trouble error={error} onRetry={refetch} />;
  if (!rack || room.isPending) return <Skeleton page="Rack" rows={11} height="h-12" />;
  if (rack.lanes.length === 0 && room.data?.measured_at == null) return <FirstWorkshop />;
  return (
    <>
      {error && <Trouble error={error} onRetry={refetch} />}
      <Lanes rack={rack} span={span} onSpan={setSpan} />
    </>
  );
}

interface Props {
  rack: Rack;
  span: Span;
  onSpan: (span: Span) => void;
}

function Lanes({ rack, span, onSpan }: Props) {
  const [wanted, setWanted] = useAddressText("find");
  const [order, setOrder] = useAddress<Order>(
    "order",
    "wettest",
    ORDERS.map((row) => row.value),
  );
  const [by, setBy] = useAddressText("by");
  const [adding, setAdding] = useState(false);
  const find = useRef<HTMLInputElement>(null);
  const list = useRef<HTMLUListElement>(null);
  const { lookAt } = useShell();
  const { state } = useLocation() as { state: { find?: number } | null };
  const { ref, width } = useWidth<HTMLDivElement>(1240);
  const wide = width >= 860;
  const rowHeight = wide ? LANE_HEIGHT + LANE_GAP : NARROW_HEIGHT;
  const traceWidth = wide ? width - SIDES : width;

  useEffect(() => {
    if (state?.find) find.current?.focus();
  }, [state?.find]);
  useEffect(
    () => () => {
      lookAt(undefined);
    },
    [lookAt],
  );

  const shown = inOrder(
    rack.lanes.filter((lane) => answersTo(lane, wanted)),
    order,
  );
  const seen = useSeen(list, shown.length, rowHeight);
  const now = new Date(rack.now);
  const start = new Date(rack.start).getTime();
  const end = start + (rack.points - 1) * rack.step_h * 3_600_000;
  const byDate = by === "" ? null : new Date(by);

  function step(to: 1 | -1) {
    const links = [...(list.current?.querySelectorAll<HTMLAnchorElement>("a[data-lane]") ?? [])];
    const at = links.findIndex((link) => link === document.activeElement);
    const next = links[at < 0 ? 0 : Math.min(Math.max(at + to, 0), links.length - 1)];
    next?.focus();
    next?.scrollIntoView({ block: "nearest" });
  }

  return (
    <div
      ref={ref}
      onKeyDown={(event) => {
        if (event.defaultPrevented || (event.key !== "ArrowDown" && event.key !== "ArrowUp")) return;
        if (
          event.target instanceof HTMLElement &&
          event.target.closest("[role=radio], [role=listbox], button")
        )
          return;
        event.preventDefault();
        step(event.key === "ArrowDown" ? 1 : -1);
      }}
    >
      <PageHeading page="Rack" className="mb-2">
        {rack.lanes.length === 0 ? "No spools yet." : rackSentence(rack.lanes)}
      </PageHeading>
      <div className="mb-1 flex flex-wrap items-end gap-x-4 gap-y-2">
        <Choice label="Back to" across value={span} options={SPANS} onChoose={onSpan} />
        <div className="hidden w-40 sm:block">
          <Picker label="Order" value={order} options={ORDERS} onChoose={setOrder} />
        </div>
        <label className="hidden text-sm text-muted sm:block">
          <span className="mb-1 block">Wanted by</span>
          <input
            type="datetime-local"
            className={`${field} block h-[2.375rem]`}
            value={by}
            onChange={(event) => {
              setBy(event.target.value);
            }}
          />
        </label>
        <span className="grow" />
        <Button
          kind="link"
          className="pb-2 text-sm"
          onClick={() => {
            setAdding(true);
          }}
        >
          add a spool
        </Button>
        <Link to="/spools/import" className={`${standingLink} pb-2 text-sm`}>
          many at once
        </Link>
        <Link to="/labels" className={`${standingLink} pb-2 text-sm`}>
          labels
        </Link>
        <Link to="/scan" className={`${standingLink} pb-2 text-sm`}>
          scan
        </Link>
        <input
          ref={find}
          id={FIND_ID}
          type="search"
          aria-label="Find a spool"
          placeholder="find  /"
          className={`${field} max-w-40`}
          value={wanted}
          onChange={(event) => {
            setWanted(event.target.value);
          }}
          onKeyDown={(event) => {
            if (event.key === "Escape") setWanted("");
          }}
        />
      </div>
      <Axis start={start} now={now.getTime()} end={end} width={traceWidth} wide={wide} />
      <ul
        ref={list}
        aria-label="Spools"
        className="flex flex-col gap-1.5"
        style={{
          paddingTop: seen.from * rowHeight,
          paddingBottom: Math.max(shown.length - seen.to, 0) * rowHeight,
        }}
      >
        {shown.slice(seen.from, seen.to).map((row) => (
          <LaneRow
            key={row.lane.spool.id}
            traced={row}
            start={start}
            stepH={rack.step_h}
            now={now}
            width={traceWidth}
            wanted={byDate}
          />
        ))}
      </ul>
      {shown.length === 0 && rack.lanes.length > 0 && (
        <p className="bg-paper p-4">No spool matches “{wanted}”. Press Esc in the field to show all.</p>
      )}
      {rack.lanes.length === 0 && (
        <p className="bg-paper p-4">The rack shows how wet each spool is. Add the first one.</p>
      )}
      <RoomLane rack={rack} now={now.getTime()} start={start} width={traceWidth} wide={wide} />
      <p className="mt-2 text-sm text-muted">
        Height and colour: moisture against the trouble threshold (red dashes); it prints clean below the
        dots. Dotted background: in a container; hatched: in a dryer. ± is two standard uncertainties.
      </p>
      {rack.lanes.length > 0 && <SaveTable table={() => rackTable(rack)} className="mt-1" />}
      <OffTheRack />
      {adding && (
        <Suspense>
          <NewSpool
            onClose={() => {
              setAdding(false);
            }}
          />
        </Suspense>
      )}
    </div>
  );
}

function Axis({
  start,
  now,
  end,
  width,
  wide,
}: {
  start: number;
  now: number;
  end: number;
  width: number;
  wide: boolean;
}) {
  const x = (at: number) => ((at - start) / (end - start)) * width;
  return (
    <div
      aria-hidden
      className="relative h-5 text-xs text-muted"
      style={{ marginLeft: wide ? SIDES / 2 : 0, width }}
    >
      {axisTicks(start, now, end).map((axisTick) => (
        <span
          key={axisTick.at}
          className={`absolute -translate-x-1/2 whitespace-nowrap ${axisTick.at === now ? "font-bold text-ink" : ""}`}
          style={{ left: Math.min(Math.max(x(axisTick.at), 16), width - 16) }}
        >
          {axisTick.name}
        </span>
      ))}
    </div>
  );
}

interface RoomProps {
  rack: Rack;
  now: number;
  start: number;
  width: number;
  wide: boolean;
}

/** The room's own lane, last. */
function RoomLane({ rack, now, start, width, wide }: RoomProps) {
  const name = useQuery(roomQuery).data?.name ?? "the room";
  const at = Math.round((now - start) / 3_600_000 / rack.step_h);
  const told = dewWords(rack.dew_point_c, at, rack.step_h);
  const filled = rack.measured.slice(0, at).filter((row) => !row).length;
  return (
    <section
      aria-label={`Air of ${name}`}
      className={`mt-1.5 ${wide ? "grid grid-cols-[15rem_1fr_15rem] items-center" : ""}`}
    >
      <p className="px-3 leading-tight">
        <strong className="first-letter:uppercase">{name}</strong>
        <span className="block text-[13px] text-muted">dew point</span>
      </p>
      <DewPointTrace
        dew={rack.dew_point_c}
        measured={rack.measured}
        now={now}
        start={start}
        stepH={rack.step_h}
        width={width}
        height={44}
        label={told}
      />
      <p className="px-3 leading-tight">
        {told}
        <span className="block text-[13px] text-muted">
          {filled > 0 ? "dashed: not measured, but filled in or expected" : "dashed: as in the past week"}
        </span>
      </p>
    </section>
  );
}
