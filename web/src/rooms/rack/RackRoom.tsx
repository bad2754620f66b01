import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { useLocation } from "react-router";
import type { Lane } from "../../api/client";
import { lanes as lanesQuery } from "../../api/queries";
import { FIND_ID, useShell } from "../../shell/shell";
import { Skeleton } from "../../ui/Skeleton";
import { Trouble } from "../../ui/Trouble";
import { field } from "../../ui/classes";
import { rackSentence } from "../../words/lanes";
import { LaneRow } from "./LaneRow";

const matches = (lane: Lane, wanted: string): boolean =>
  [lane.spool.name, lane.material_short, lane.spool.colour, lane.place?.name ?? ""]
    .join(" ")
    .toLowerCase()
    .includes(wanted.trim().toLowerCase());

/** Home: every spool as a lane, wettest against its own marks first. */
export function RackRoom() {
  const { data: lanes, error, refetch } = useQuery(lanesQuery);
  const [wanted, setWanted] = useState("");
  const find = useRef<HTMLInputElement>(null);
  const list = useRef<HTMLUListElement>(null);
  const { lookAt } = useShell();
  const { state } = useLocation() as { state: { find?: number } | null };

  useEffect(() => {
    if (state?.find) find.current?.focus();
  }, [state?.find]);
  useEffect(
    () => () => {
      lookAt(undefined);
    },
    [lookAt],
  );

  function step(by: 1 | -1) {
    const links = [...(list.current?.querySelectorAll("a") ?? [])];
    const at = links.findIndex((it) => it === document.activeElement);
    links[at < 0 ? 0 : Math.min(Math.max(at + by, 0), links.length - 1)]?.focus();
  }

  if (error && !lanes) return <Trouble error={error} onRetry={refetch} />;
  if (!lanes) return <Skeleton rows={11} height="h-12" />;
  const shown = lanes.filter((lane) => matches(lane, wanted));
  return (
    <div
      onKeyDown={(event) => {
        if (event.key === "ArrowDown" || event.key === "ArrowUp") {
          event.preventDefault();
          step(event.key === "ArrowDown" ? 1 : -1);
        }
      }}
    >
      <div className="mb-2 flex flex-wrap items-end justify-between gap-x-6 gap-y-2">
        <h1>{lanes.length === 0 ? "No spools yet." : rackSentence(lanes)}</h1>
        <input
          ref={find}
          id={FIND_ID}
          type="search"
          aria-label="Find a spool"
          placeholder="find  /"
          className={`${field} max-w-48`}
          value={wanted}
          onChange={(event) => {
            setWanted(event.target.value);
          }}
          onKeyDown={(event) => {
            if (event.key === "Escape") setWanted("");
          }}
        />
      </div>
      {error && <Trouble error={error} onRetry={refetch} />}
      <div aria-hidden className="hidden grid-cols-[19rem_1fr_17rem] text-xs text-muted lane:grid">
        <span className="pl-3">wettest against its own marks first</span>
        <span className="relative h-5">
          <span className="absolute left-0">dry</span>
          <span className="absolute left-1/2 -translate-x-1/2 text-heat">trouble mark</span>
          <span className="absolute right-0">2 ×</span>
        </span>
      </div>
      <ul ref={list} aria-label="Spools" className="flex flex-col gap-1">
        {shown.map((lane) => (
          <LaneRow key={lane.spool.id} lane={lane} now={new Date()} />
        ))}
      </ul>
      {shown.length === 0 && lanes.length > 0 && (
        <p className="bg-paper p-4">No spool answers to “{wanted}”. Esc in the field shows all again.</p>
      )}
      {lanes.length === 0 && (
        <p className="bg-paper p-4">
          The rack is where every spool shows how wet it is. <code>make demo</code> starts Darre with a shed
          full.
        </p>
      )}
      <p className="mt-2 text-sm text-muted">
        Dots: prints clean below. Red dashes: trouble shows above. ± is two standard uncertainties. Since the
        last weighing, moistures follow the room's air through the winding.
      </p>
    </div>
  );
}
