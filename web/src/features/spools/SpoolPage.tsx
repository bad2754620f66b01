import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Link, useParams } from "react-router";
import type { Lane, SpoolFacts } from "../../api/client";
import { spoolPage } from "./queries";
import { axisTicks } from "../../charts/laneTrace";
import { LaneTrace } from "../../charts/LaneTrace";
import { OutcomeChart } from "../../charts/OutcomeChart";
import { useWidth } from "../../charts/useWidth";
import { percent } from "../../domain/numbers";
import { mass } from "../../domain/quantities";
import { when } from "../../domain/times";
import { Button } from "../../components/Button";
import { useShell } from "../../components/shell";
import { PageHeading } from "../../components/PageHeading";
import { Choice } from "../../components/Choice";
import { Skeleton } from "../../components/Skeleton";
import { Trouble } from "../../components/Trouble";
import { link, panel, primary } from "../../components/classes";
import { scales as scalesQuery } from "../equipment/queries";
import { nextActWords, whereabouts } from "../rack/words";
import {
  dampNightLine,
  disputeLine,
  learnedLine,
  type OutcomeName,
  outcomeWords,
  sheetLine,
  spoolSentence,
  tareWords,
} from "./words";
import { SheetDialog } from "../plan/SheetDialog";
import { NewSpool } from "./NewSpool";
import { SpoolForm } from "./SpoolForm";
import { MoistureSlip, UseSlip } from "./SpoolSlips";
import { ArchiveButton } from "./Archive";
import { Coils } from "./Coils";
import { MoistureEvents } from "./MoistureEvents";

type Open = "moisture" | "use" | "change" | "sheet" | "another" | null;

/** Everything about one spool: its moisture, its history, and what will become of it. */
export function SpoolPage() {
  const id = Number(useParams().id);
  const { data: page, error, refetch } = useQuery(spoolPage(id));
  const { badPrint, lookAt, move, weigh } = useShell();
  const [open, setOpen] = useState<Open>(null);
  useEffect(() => {
    lookAt(id);
    return () => {
      lookAt(undefined);
    };
  }, [lookAt, id]);

  if (error && !page) return <Trouble error={error} onRetry={refetch} />;
  if (!page) return <Skeleton page="Spool" rows={3} height="h-40" />;
  const { lane } = page.traced;
  const { spool } = lane;
  const now = new Date();
  const next = nextActWords(page.traced, now, null);
  const close = () => {
    setOpen(null);
  };
  return (
    <div className="grid gap-6 lane:grid-cols-[1fr_19rem]">
      <section className="min-w-0">
        <PageHeading page={page.traced.lane.spool.name}>{spoolSentence(page)}</PageHeading>
        <p className="mt-1 mb-3 text-lg">
          {next.act}
          <span className="text-base text-muted">
            {" "}
            · {lane.run ? next.why : `${next.why} · ${whereabouts(lane, now)}`}
          </span>
        </p>
        <Past page={page} now={now} />
        <Outcomes page={page} now={now} />
        <MoistureEvents page={page} now={now} />
      </section>
      <aside className="flex flex-col gap-4">
        <div className="flex flex-wrap gap-2">
          <Link to={lane.run ? `/runs/${lane.run.id}` : `/plan?spool=${spool.id}`} className={primary}>
            {lane.run ? "See its run" : "Plan a run"} <kbd>P</kbd>
          </Link>
          <Button
            kind="quiet"
            onClick={() => {
              move();
            }}
          >
            Moved <kbd>M</kbd>
          </Button>
          <Button
            kind="quiet"
            onClick={() => {
              weigh({ kind: "keep", spool: spool.id });
            }}
          >
            Weigh <kbd>W</kbd>
          </Button>
          <Button
            kind="quiet"
            onClick={() => {
              badPrint(spool.id);
            }}
          >
            Bad print <kbd>B</kbd>
          </Button>
        </div>
        <Facts lane={lane} />
        <Coils spool={spool} />
        <ul className="flex flex-col gap-1 text-sm">
          {(
            [
              ["moisture", "note how wet it is"],
              ["use", "note what was printed"],
              ["sheet", "note its maker’s sheet"],
              ["change", "change its details"],
            ] as const
          ).map(([what, name]) => (
            <li key={what}>
              <Button
                kind="link"
                onClick={() => {
                  setOpen(what);
                }}
              >
                {name}
              </Button>
            </li>
          ))}
          <li>
            <Button
              kind="link"
              onClick={() => {
                setOpen("another");
              }}
            >
              add another like this
            </Button>
          </li>
          <li>
            <Link to={`/labels?spools=${spool.id}`} className={link}>
              print its label
            </Link>
          </li>
          <li>
            <ArchiveButton spool={spool} />
          </li>
        </ul>
        {page.learned.map((rate) => (
          <p key={rate.dryer_name} className="text-sm">
            {learnedLine(rate)}
          </p>
        ))}
      </aside>
      {open === "moisture" && <MoistureSlip spool={spool} onClose={close} />}
      {open === "use" && <UseSlip spool={spool} onClose={close} />}
      {open === "sheet" && <SheetDialog spool={spool} onClose={close} />}
      {open === "another" && <NewSpool like={page} onClose={close} />}
      {open === "change" && <SpoolForm page={page} onClose={close} />}
    </div>
  );
}

function Facts({ lane }: { lane: Lane }) {
  const { spool } = lane;
  const rows: [string, string][] = [
    ["Material", lane.material_short],
    ...(spool.colour ? ([["Colour", spool.colour]] as [string, string][]) : []),
    ...(spool.maker ? ([["Maker", spool.maker]] as [string, string][]) : []),
    ...(spool.purpose ? ([["For", spool.purpose]] as [string, string][]) : []),
    ["Filament left", lane.net_g === null ? "never weighed" : mass(lane.net_g, 0)],
    ["Empty spool", tareWords(spool)],
    [
      "Thresholds",
      lane.clean_pct === null ? "none" : `${percent(lane.clean_pct)} and ${percent(lane.trouble_pct ?? 0)} %`,
    ],
    ["Maker’s sheet", spool.sheet ? sheetLine(spool.sheet) : "not noted"],
  ];
  return (
    <dl className={`${panel} flex flex-col gap-1.5`}>
      {rows.map(([name, value]) => (
        <div key={name} className="flex justify-between gap-3">
          <dt className="text-muted">{name}</dt>
          <dd className="text-right font-bold">{value}</dd>
        </div>
      ))}
    </dl>
  );
}

function Past({ page, now }: { page: SpoolFacts; now: Date }) {
  const { ref, width } = useWidth<HTMLDivElement>(880);
  const start = new Date(page.start).getTime();
  const end = start + (page.traced.pct.length - 1) * page.step_h * 3_600_000;
  return (
    <div ref={ref}>
      <div aria-hidden className="relative h-5 text-xs text-muted">
        {axisTicks(start, now.getTime(), end).map((axisTick) => (
          <span
            key={axisTick.at}
            className="absolute -translate-x-1/2 whitespace-nowrap"
            style={{
              left: Math.min(Math.max(((axisTick.at - start) / (end - start)) * width, 16), width - 16),
            }}
          >
            {axisTick.name}
          </span>
        ))}
      </div>
      <div className="bg-paper">
        <LaneTrace
          traced={page.traced}
          start={start}
          stepH={page.step_h}
          now={now.getTime()}
          width={width}
          height={150}
        />
      </div>
    </div>
  );
}

function Outcomes({ page, now }: { page: SpoolFacts; now: Date }) {
  const { lane } = page.traced;
  const [chosen, setChosen] = useState<OutcomeName>("stay");
  const { data: scales = [] } = useQuery(scalesQuery);
  const courses = page.outcomes.map((outcome) => ({
    key: outcome.name,
    name: outcomeWords(outcome.name, true, lane.run !== null),
    pct: outcome.pct,
    sd: outcome.sd,
  }));
  return (
    <section aria-label="What if" className="mt-5">
      <h2>What if, over the next two weeks</h2>
      <p className="mb-1">{disputeLine(page)}</p>
      <p className="mb-1 empty:hidden">{dampNightLine(page, scales)}</p>
      <div className="mb-1 max-w-2xl">
        <Choice
          label="Show the band of (9 in 10)"
          across
          value={chosen}
          options={page.outcomes.map((outcome) => ({
            value: outcome.name,
            name: outcomeWords(outcome.name, false, lane.run !== null),
          }))}
          onChoose={setChosen}
        />
      </div>
      <OutcomeChart
        label={`Water of ${lane.spool.name} over two weeks, by ${courses.length} choices`}
        courses={courses}
        ticks={page.outcome_at.map((at) => when(new Date(at), now))}
        clean={lane.clean_pct}
        trouble={lane.trouble_pct}
        chosen={chosen}
      />
      <table className="mt-1 w-full text-sm">
        <thead>
          <tr className="text-left text-muted">
            <th className="font-normal">choice</th>
            <th className="text-right font-normal">in 3 d, %</th>
            <th className="text-right font-normal">in 1 wk, %</th>
            <th className="text-right font-normal">in 2 wk, %</th>
          </tr>
        </thead>
        <tbody>
          {courses.map((course) => (
            <tr key={course.key} className="border-t border-line">
              <td>{course.name}</td>
              {[12, 28, 56].map((at) => (
                <td key={at} className="text-right num">
                  {percent(course.pct[at] ?? 0)}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
