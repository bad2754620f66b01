import { Button } from "@headlessui/react";
import { useQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { Link, useParams } from "react-router";
import type { RunSheet } from "../../api/client";
import { useEndRun } from "./acts";
import { cases as casesQuery } from "../cases/queries";
import { run as runQuery } from "./queries";
import { CourseChart } from "../../charts/CourseChart";
import { chance, hours, percent, plusMinus, scaleDecimals, span } from "../../domain/numbers";
import { mass, massPlusMinus, temp } from "../../domain/quantities";
import { clock, later, when } from "../../domain/times";
import { useShell } from "../../components/shell";
import { PageHeading } from "../../components/PageHeading";
import { Skeleton } from "../../components/Skeleton";
import { Trouble } from "../../components/Trouble";
import { link, panel, primary, quiet } from "../../components/classes";
import { constantMassWords, EVENT_WORDS, lossLine, runSentence, spentWords, stopLine } from "./words";
import { BoxAir } from "./BoxAir";
import { RunEvents } from "./RunEvents";
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
  const resolution = Math.max(...sheet.seen.map((it) => it.resolution_g), 0.001);
  const out = lossLine(verdict, resolution);
  const stop = stopLine(sheet);
  return (
    <div className="grid gap-6 lane:grid-cols-[1fr_19rem]">
      <section className="min-w-0">
        <p className="hidden text-sm print:block">darre · run report · printed {when(now, now)}</p>
        <PageHeading page={`${sheet.run.spool.name} in ${sheet.run.dryer.name}`}>
          {runSentence(sheet)}
        </PageHeading>
        {(out ?? stop) && (
          <p className="my-1 text-lg">{[out, stop].filter((it) => it !== null).join("; ")}.</p>
        )}
        <p className="mb-2 text-sm text-muted">
          {run.spool.name} in {run.dryer.name} · {temp(run.temp_c)} at the spool · started{" "}
          {when(started, now)}
          {run.ended_at !== null && `, ended ${when(new Date(run.ended_at), now)}`}
        </p>
        <RunChart sheet={sheet} started={started} />
        <BoxAir sheet={sheet} endH={sheet.course.at(-1)?.time_h ?? sheet.end_h} />
      </section>
      <aside className="flex flex-col gap-4">
        <Amounts sheet={sheet} />
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
        <WeighIns sheet={sheet} now={now} />
        {run.override_reason && <p className="text-sm">Past a limit, because: {run.override_reason}</p>}
        <Button
          className={`${link} self-start text-sm print:hidden`}
          onClick={() => {
            window.print();
          }}
        >
          print this report
        </Button>
      </aside>
    </div>
  );
}

/** A case that this run is to settle: what to print when it is done. */
function CaseOfRun({ sheet }: { sheet: RunSheet }) {
  const { data: cases = [] } = useQuery(casesQuery);
  const { run } = sheet;
  const it = cases.find((row) => row.case.is_open && row.case.spool === run.spool.id);
  if (!it || (run.ended_at !== null && run.ended_at < it.case.printed_at)) return null;
  return (
    <p className="border-l-4 border-ink pl-2 text-sm print:hidden">
      A case waits for it: <Link to={`/cases/${it.case.id}`}>{it.case.title}</Link>.{" "}
      {run.ended_at === null ? "When it is dry, print" : "Print"} the same file again.
    </p>
  );
}

function RunChart({ sheet, started }: { sheet: RunSheet; started: Date }) {
  const { run, verdict } = sheet;
  const judged = verdict.loss !== null;
  const forecast = sheet.forecast.time_h.map((time, at) => ({
    time,
    mean: sheet.forecast.moisture_pct[at] ?? 0,
    low: sheet.forecast.low_pct[at] ?? 0,
    high: sheet.forecast.high_pct[at] ?? 0,
  }));
  const course = sheet.course.map((it) => ({ time: it.time_h, mean: it.mean, low: it.p05, high: it.p95 }));
  const planned = { at: sheet.end_h, name: "planned end" };
  const happened = sheet.events.map((it) => ({
    at: (new Date(it.at).getTime() - started.getTime()) / 3_600_000,
    name: EVENT_WORDS[it.kind],
  }));
  return (
    <>
      <p className="text-sm text-muted">
        water left in the plastic, %{" "}
        {judged
          ? "· band: where the weighings put it, 9 times in 10"
          : "· band: where a spool like this ends up, 9 times in 10"}{" "}
        · dashed: the forecast at the start
      </p>
      <CourseChart
        label={`Water left in ${run.spool.name}: ${span(verdict.moisture.p05, verdict.moisture.p95)} % now`}
        course={course}
        beside={{ name: "forecast", course: forecast }}
        seen={sheet.seen.map((it) => ({
          time: it.time_h,
          moisture: it.moisture_pct,
          plusMinus: 2 * it.uncertainty_pct,
        }))}
        marks={[
          { at: sheet.clean_pct, name: "prints clean", kind: "clean" },
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

function Amounts({ sheet }: { sheet: RunSheet }) {
  const { verdict, run } = sheet;
  const loss = verdict.loss;
  const digits = scaleDecimals(Math.max(...sheet.seen.map((it) => it.resolution_g), 0.001));
  const rows: [string, string][] = [
    [
      "Out since start",
      loss ? massPlusMinus(loss.mass_g.value, loss.mass_g.plus_minus, digits) : "one weighing only",
    ],
    ...(loss
      ? ([
          [
            "of the dry plastic",
            `${plusMinus(loss.dry_basis_pct.value, loss.dry_basis_pct.plus_minus, 2)} %`,
          ],
          [
            "of the wet plastic",
            `${plusMinus(loss.wet_basis_pct.value, loss.wet_basis_pct.plus_minus, 2)} %`,
          ],
          ["Least it could tell", mass(loss.detectable_g, Math.max(digits, 1))],
        ] as [string, string][])
      : []),
    ["Still in", `${span(verdict.moisture.p05, verdict.moisture.p95)} %`],
    ["Aim", `${percent(run.aim_pct)} %`],
    ["Chance it is dry", chance(verdict.p_dry)],
    ["Last change", constantMassWords(verdict, digits)],
    ["Heated", `${hours(sheet.heated_h)} of ${hours(run.duration_h)}`],
    ["Used", spentWords(sheet.spent)],
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
  const { run } = sheet;
  return (
    <div className="flex flex-wrap items-center gap-2 print:hidden">
      <Button
        className={primary}
        onClick={() => {
          weigh({ kind: "end", run });
        }}
      >
        Weigh out and end
      </Button>
      <Button
        className={quiet}
        onClick={() => {
          weigh({ kind: "keep", spool: run.spool.id });
        }}
      >
        Weigh <kbd>W</kbd>
      </Button>
      <Button
        className={`${link} text-sm`}
        disabled={end.isPending}
        onClick={() => {
          end.mutate(
            { run: run.id, weigh_out: null },
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
      {end.error && <Alert>{end.error.message}</Alert>}
    </div>
  );
}

function WeighIns({ sheet, now }: { sheet: RunSheet; now: Date }) {
  return (
    <section>
      <h2>Weighings</h2>
      {sheet.seen.length === 0 && (
        <p className="text-sm">
          None. <Link to="/plan">Weigh in</Link> at the start of the next run to learn what it does.
        </p>
      )}
      <ul className="text-sm">
        {sheet.seen.map((it) => (
          <li key={it.id} className="flex justify-between gap-2 border-b border-line py-1">
            <span className="text-muted">
              {when(new Date(it.at), now)}, {it.scale_name}
            </span>
            <span className="num font-bold">{mass(it.gross_g, scaleDecimals(it.resolution_g))}</span>
          </li>
        ))}
      </ul>
    </section>
  );
}
