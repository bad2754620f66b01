import { fileName } from "../../domain/tableFile";
import { useQuery } from "@tanstack/react-query";
import { Fragment, useEffect, useState } from "react";
import { Link, useParams } from "react-router";
import type { RunSheet } from "../../api/client";
import { useEndRun } from "./acts";
import { cases as casesQuery } from "../cases/queries";
import { run as runQuery } from "./queries";
import { CourseChart } from "../../charts/CourseChart";
import { chance, hours, percent, plusMinus, scaleDecimals, span } from "../../domain/numbers";
import { mass, temp } from "../../domain/quantities";
import { clock, day, later, when } from "../../domain/times";
import { Button } from "../../components/Button";
import { useShell } from "../../components/shell";
import { PageHeading } from "../../components/PageHeading";
import { Skeleton } from "../../components/Skeleton";
import { Trouble } from "../../components/Trouble";
import { panel, standingLink } from "../../components/classes";
import {
  constantMassWords,
  outSince,
  desiccantWords,
  nextGramsWords,
  EVENT_WORDS,
  lossLine,
  runSentence,
  spentWords,
  stopLine,
  subjectOf,
} from "./words";
import { BoxAir } from "./BoxAir";
import { LeaveInSlip } from "./LeaveInSlip";
import { RunEvents } from "./RunEvents";
import { RunWeighings } from "./RunWeighings";
import { Alert } from "../../components/Alert";

/** Is it done? The weigh-ins against the forecast, and what they amount to. */
export function RunPage() {
  const id = Number(useParams().id);
  const { data: sheet, error, refetch } = useQuery(runQuery(id));
  const { lookAt } = useShell();
  const spool = sheet?.run.spool.id;
  useEffect(() => {
    lookAt(spool);
  }, [lookAt, spool]);

  if (error && !sheet) return <Trouble error={error} onRetry={refetch} />;
  if (!sheet) return <Skeleton page="Run" rows={2} height="h-64" />;
  const { run, verdict } = sheet;
  const now = new Date();
  const started = new Date(run.started_at);
  const resolution = Math.max(...sheet.seen.map((point) => point.resolution_g), 0.001);
  const out = lossLine(verdict, resolution);
  const stop = stopLine(sheet);
  return (
    <div className="grid gap-6 lane:grid-cols-[1fr_19rem]">
      <section className="min-w-0">
        <p className="hidden text-sm print:block">darre · run report · printed {day(now)}</p>
        <PageHeading page={`${subjectOf(run)} in ${run.dryer.name}`}>{runSentence(sheet)}</PageHeading>
        {(out ?? stop) && (
          <p className="my-1 text-lg">{[out, stop].filter((point) => point !== null).join("; ")}.</p>
        )}
        <p className="mb-2 text-sm text-muted">
          {subjectOf(run)} in {run.dryer.name}
          <Beside sheet={sheet} /> · {temp(run.temp_c)} at the spool · started {when(started, now)}
          {run.ended_at !== null && `, ended ${when(new Date(run.ended_at), now)}`}
        </p>
        <RunChart sheet={sheet} started={started} />
        <BoxAir sheet={sheet} endH={sheet.course.at(-1)?.time_h ?? sheet.end_h} />
      </section>
      <aside className="flex flex-col gap-4">
        <Amounts sheet={sheet} />
        <NextGrams sheet={sheet} />
        <InTheBox sheet={sheet} />
        {run.ended_at === null && <RunActs sheet={sheet} />}
        {verdict.state === "stalled" && (
          <p className="border-l-4 border-heat pl-2 text-sm">
            <Link to={`/plan?spool=${run.spool.id}&dryer=${run.dryer.id}`}>
              See what could dry it further
            </Link>
          </p>
        )}
        <CaseOfRun sheet={sheet} />
        <RunEvents sheet={sheet} now={now} />
        <RunWeighings sheet={sheet} now={now} />
        {run.override_reason && <p className="text-sm">Past a limit, because: {run.override_reason}</p>}
        <Button
          kind="link"
          className="self-start text-sm print:hidden"
          onClick={() => {
            window.print();
          }}
        >
          print this report
        </Button>
        <a
          className={`${standingLink} self-start text-sm print:hidden`}
          href={`/api/runs/${run.id}/`}
          download={fileName(`run of ${run.spool.name}`, "json")}
        >
          save it as a file
        </a>
      </aside>
    </div>
  );
}

/** What is in the box with it, each by its own run. */
function Beside({ sheet }: { sheet: RunSheet }) {
  return sheet.beside.map((other, n) => (
    <Fragment key={other.id}>
      {n === 0 ? ", together with " : ", "}
      <Link to={`/runs/${other.id}`}>
        {subjectOf({ coil: other.coil, spool: { name: other.spool_name } })}
      </Link>
    </Fragment>
  ));
}

/** A case that this run is to settle: what to print when it is done. */
function CaseOfRun({ sheet }: { sheet: RunSheet }) {
  const { data: cases = [] } = useQuery(casesQuery);
  const { run } = sheet;
  const point = cases.find((row) => row.case.is_open && row.case.spool === run.spool.id);
  if (!point || (run.ended_at !== null && run.ended_at < point.case.printed_at)) return null;
  return (
    <p className="border-l-4 border-ink pl-2 text-sm print:hidden">
      A case waits for it: <Link to={`/cases/${point.case.id}`}>{point.case.title}</Link>.{" "}
      {run.ended_at === null ? "When it is dry, print" : "Print"} the same file again.
    </p>
  );
}

/** Where it prints clean, and where this run is to end where that is elsewhere. */
function aimMarks({ clean_pct, run }: RunSheet) {
  const clean = { at: clean_pct ?? 0, name: "prints clean", kind: "clean" as const };
  if (clean_pct === run.aim_pct) return [clean];
  const aim = { at: run.aim_pct, name: `my aim ${percent(run.aim_pct)} %`, kind: "clean" as const };
  return clean_pct === null ? [aim] : [clean, aim];
}

function RunChart({ sheet, started }: { sheet: RunSheet; started: Date }) {
  const { run, verdict } = sheet;
  const judged = verdict.loss !== null;
  const shown = sheet.course.at(-1)?.time_h ?? sheet.end_h;
  const forecast = sheet.forecast.time_h
    .map((time, at) => ({
      time,
      mean: sheet.forecast.moisture_pct[at] ?? 0,
      low: sheet.forecast.low_pct[at] ?? 0,
      high: sheet.forecast.high_pct[at] ?? 0,
    }))
    .filter(({ time }) => time <= shown);
  const course = sheet.course.map((point) => ({
    time: point.time_h,
    mean: point.mean,
    low: point.p05,
    high: point.p95,
  }));
  const planned = { at: sheet.end_h, name: "planned end" };
  const happened = sheet.events.map((event) => ({
    at: (new Date(event.at).getTime() - started.getTime()) / 3_600_000,
    name: EVENT_WORDS[event.kind],
  }));
  return (
    <>
      <p className="text-sm text-muted">
        water left in the filament, %{" "}
        {judged && verdict.told
          ? "· band: where the weighings put it, 9 times in 10"
          : "· band: where a spool like this ends up, 9 times in 10"}{" "}
        · dashed: the forecast at the start
      </p>
      <CourseChart
        label={`Water left in ${run.spool.name}: ${span(verdict.moisture.p05, verdict.moisture.p95)} % now`}
        course={course}
        beside={{ name: "forecast", course: forecast }}
        seen={sheet.seen.flatMap(({ point }) =>
          point
            ? [{ time: point.time_h, moisture: point.moisture_pct, plusMinus: 2 * point.uncertainty_pct }]
            : [],
        )}
        marks={[
          ...aimMarks(sheet),
          ...(sheet.trouble_pct === null
            ? []
            : [{ at: sheet.trouble_pct, name: "trouble threshold", kind: "trouble" as const }]),
          { at: sheet.floor_pct, name: "this air stops here", kind: "floor" },
        ]}
        moments={[
          ...(run.ended_at === null ? [{ at: sheet.now_h, name: "now", strong: true }, planned] : []),
          ...happened,
        ]}
        tick={(time) => clock(later(started, time))}
        axis="by the clock"
        height={380}
      />
    </>
  );
}

/** Nylon and its like are best printed straight out of the running dryer. */
function NextGrams({ sheet }: { sheet: RunSheet }) {
  const says = nextGramsWords(sheet);
  return says && <p className="text-sm print:hidden">{says}</p>;
}

function InTheBox({ sheet }: { sheet: RunSheet }) {
  const says = desiccantWords(sheet);
  return says && <p className="text-sm">{says}</p>;
}

function Amounts({ sheet }: { sheet: RunSheet }) {
  const { verdict, run } = sheet;
  const loss = verdict.loss;
  const digits = scaleDecimals(Math.max(...sheet.seen.map((point) => point.resolution_g), 0.001));
  const rows: [string, string][] = [
    outSince(sheet, digits),
    ...(loss
      ? ([
          [
            "of the dry filament",
            `${plusMinus(loss.dry_basis_pct.value, loss.dry_basis_pct.plus_minus, 2)} %`,
          ],
          [
            "of the wet filament",
            `${plusMinus(loss.wet_basis_pct.value, loss.wet_basis_pct.plus_minus, 2)} %`,
          ],
          ["Least it could tell", mass(loss.detectable_g, Math.max(digits, 1))],
        ] as [string, string][])
      : []),
    [
      "Still in",
      verdict.told ? `${span(verdict.moisture.p05, verdict.moisture.p95)} %` : "the scale cannot tell",
    ],
    ["Aim", `${percent(run.aim_pct)} %`],
    ...(verdict.told ? ([["Chance it is dry", chance(verdict.p_dry)]] as [string, string][]) : []),
    ...(sheet.seen.length > 0
      ? ([["Last change", constantMassWords(sheet, digits)]] as [string, string][])
      : []),
    ["Heated", `${hours(sheet.heated_h)} of ${hours(run.duration_h)}`],
    [sheet.beside.length > 0 ? "Used by the whole box" : "Used", spentWords(sheet.spent)],
  ];
  return (
    <dl aria-label="Amounts" className={`${panel} flex flex-col gap-1.5`}>
      {rows.map(([name, value]) => (
        <div key={name} className="flex justify-between gap-3">
          <dt className="text-muted">{name}</dt>
          <dd className="text-right num font-bold">{value}</dd>
        </div>
      ))}
    </dl>
  );
}

function RunActs({ sheet }: { sheet: RunSheet }) {
  const { weigh, notify } = useShell();
  const end = useEndRun();
  const [leaving, setLeaving] = useState(false);
  const { run } = sheet;
  return (
    <div className="flex flex-wrap items-center gap-2 print:hidden">
      <Button
        kind="primary"
        onClick={() => {
          weigh({ kind: "end", run });
        }}
      >
        Weigh out and end
      </Button>
      <Button
        kind="quiet"
        onClick={() => {
          weigh({ kind: "keep", spool: run.spool.id });
        }}
      >
        Weigh <kbd>W</kbd>
      </Button>
      <Button
        kind="link"
        className="text-sm"
        disabled={end.isPending}
        onClick={() => {
          end.mutate(
            { run: run.id, weigh_out: null, left_in: false },
            {
              onSuccess: (answer) => {
                notify({ text: `Ended drying ${run.spool.name} without a weigh-out.`, undo: answer.undo });
              },
            },
          );
        }}
      >
        end without weighing
      </Button>
      {run.coil === null && (
        <Button
          kind="link"
          className="text-sm"
          onClick={() => {
            setLeaving(true);
          }}
        >
          it stays in the dryer
        </Button>
      )}
      {leaving && (
        <LeaveInSlip
          run={run}
          onClose={() => {
            setLeaving(false);
          }}
        />
      )}
      {end.error && <Alert>{end.error.message}</Alert>}
    </div>
  );
}
