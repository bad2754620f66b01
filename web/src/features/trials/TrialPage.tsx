import { fileName } from "../../domain/tableFile";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate, useParams } from "react-router";
import type { Trial } from "../../api/client";
import { CourseChart } from "../../charts/CourseChart";
import { SwellingChart } from "../../charts/SwellingChart";
import { Button } from "../../components/Button";
import { Field } from "../../components/Field";
import { PageHeading } from "../../components/PageHeading";
import { Skeleton } from "../../components/Skeleton";
import { Trouble } from "../../components/Trouble";
import { useShell } from "../../components/shell";
import { panel, standingLink } from "../../components/classes";
import { hours, percent } from "../../domain/numbers";
import { temp } from "../../domain/quantities";
import { day } from "../../domain/times";
import { parseTyped } from "../../domain/typed";
import { scientific } from "../materials/words";
import { useEndTrial, useRemoveTrial, useTakeOver } from "./acts";
import { hasAir, TrialAir } from "./TrialAir";
import { RatePrints, Rungs } from "./Ladder";
import { LotTable } from "./LotTable";
import { slip as slipQuery, trial as trialQuery } from "./queries";
import { WeighSamples } from "./WeighSamples";
import {
  flowWords,
  isTooEarly,
  markWords,
  pointsWords,
  QUESTIONS,
  slipWords,
  trialNote,
  trialSentence,
} from "./words";

/** A trial: what it tells, its lot, and the next sample to weigh. */
export function TrialPage() {
  const id = Number(useParams().id);
  const { data, error, refetch } = useQuery(trialQuery(id));
  if (error) return <Trouble error={error} onRetry={refetch} />;
  if (!data) return <Skeleton page="Trial" rows={3} height="h-32" />;
  return <Told trial={data} />;
}

function Told({ trial }: { trial: Trial }) {
  const note = trialNote(trial);
  return (
    <>
      <PageHeading page="Trial">{trialSentence(trial)}</PageHeading>
      {note && <p className="mt-1">{note}</p>}
      <div className="mt-4 grid gap-4 lane:grid-cols-[21rem_1fr] xl:grid-cols-[21rem_1fr_18rem]">
        <div className="flex min-w-0 flex-col gap-4">
          {trial.kind === "ladder" ? (
            <RatePrints trial={trial} />
          ) : (
            <>
              {trial.closed_at === null && <WeighSamples trial={trial} />}
              <LotTable trial={trial} />
            </>
          )}
        </div>
        <div className="flex min-w-0 flex-col gap-4">
          {trial.kind === "ladder" && <Rungs trial={trial} />}
          {trial.curve && <Curve trial={trial} />}
          {trial.sum && <Sum trial={trial} />}
          {trial.sponges.length > 0 && <Sponges trial={trial} />}
          {trial.kind === "swelling" && <Swelling trial={trial} />}
          {hasAir(trial) && <TrialAir trial={trial} />}
        </div>
        <div className="grid min-w-0 content-start gap-4 max-xl:sm:grid-cols-2 max-xl:lane:col-span-2">
          <Says trial={trial} />
          <About trial={trial} />
          <a
            className={`${standingLink} text-sm print:hidden`}
            href={`/api/trials/${trial.id}/`}
            download={fileName(`trial ${trial.id}`, "json")}
          >
            save it as a file
          </a>
        </div>
      </div>
    </>
  );
}

function Curve({ trial }: { trial: Trial }) {
  const { curve, fit } = trial;
  if (!curve || !fit) return null;
  const course = curve.time_h.map((time, n) => {
    const [middle, slow, fast] = [curve.middle_pct[n] ?? 0, curve.slow_pct[n] ?? 0, curve.fast_pct[n] ?? 0];
    return { time, mean: middle, low: Math.min(slow, fast), high: Math.max(slow, fast) };
  });
  const due = trial.samples.filter((sample) => sample.readings.length === 0 && sample.planned_h !== null);
  return (
    <section className={panel}>
      <CourseChart
        label="What the coils hold over time, % of their dry mass"
        course={course}
        seen={trial.samples.flatMap((sample) =>
          sample.readings.flatMap((reading) =>
            reading.holds_pct === null
              ? []
              : [{ time: reading.hours, moisture: reading.holds_pct, plusMinus: 0 }],
          ),
        )}
        marks={
          trial.kind === "drying"
            ? [{ at: fit.end_pct.p50, name: "this air stops here", kind: "floor" }]
            : [{ at: fit.end_pct.p50, name: "it can hold this much", kind: "floor" }]
        }
        moments={due.map((sample) => ({ at: sample.planned_h ?? 0, name: sample.name }))}
        tick={(value) => hours(value)}
        axis="water in the coils, % of the dry mass"
        height={300}
      />
    </section>
  );
}

function Swelling({ trial }: { trial: Trial }) {
  const slope = trial.swelling?.strain_per_pct;
  if (!slope)
    return (
      <p className={`${panel} text-muted`}>
        Let the pieces lie in damp air or in water until their mass stops moving. How much longer they get
        stands here once the first is measured again.
      </p>
    );
  const pieces = trial.samples.flatMap(({ name, readings }) =>
    readings.map(({ water_pct, strain_pct }) => ({ name, water: water_pct ?? 0, longer: strain_pct ?? 0 })),
  );
  return (
    <section className={panel}>
      <SwellingChart pieces={pieces} slope={[slope.p05, slope.p50, slope.p95]} />
    </section>
  );
}

function Sum({ trial }: { trial: Trial }) {
  const { sum } = trial;
  const [typed, setTyped] = useState("");
  const asked = parseTyped(typed) === null ? "" : typed.trim();
  const found = useQuery(slipQuery(trial.id, asked));
  if (!sum) return null;
  const share = Math.max(Math.min((100 * sum.gained_pct) / Math.max(sum.total_pct, 1e-9), 100), 0);
  return (
    <section className={panel}>
      <h2 className="mb-2">The sum, % of the dry mass</h2>
      <div className="flex h-9 text-sm font-bold text-white" role="img" aria-label={sumWords(sum)}>
        <span className="flex items-center bg-[#14406b] px-2" style={{ width: `${share}%` }}>
          gained {percent(sum.gained_pct)}
        </span>
        {sum.twin_known && (
          <span className="flex grow items-center bg-[#2d7192] px-2">
            there before {percent(sum.before_pct)}
          </span>
        )}
      </div>
      <p className="mt-2 text-sm">
        {sumWords(sum)} Of the wet mass it would be {percent(sum.wet_basis_pct)} %.
      </p>
      <div className="mt-3 grid items-start gap-3 sm:grid-cols-[12rem_1fr]">
        <Field label="Your own figure" unit="%" inputMode="decimal" value={typed} onText={setTyped} />
        <p role="status" className="sm:pt-8">
          {asked !== "" && found.data ? slipWords(found.data) : (found.error?.message ?? "")}
        </p>
      </div>
    </section>
  );
}

function sumWords(sum: NonNullable<Trial["sum"]>): string {
  return sum.twin_known
    ? `${percent(sum.gained_pct)} % gained and ${percent(sum.before_pct)} % there before: ${percent(sum.total_pct)} % in all.`
    : `${percent(sum.gained_pct)} % gained; what was there before is not known without a baked coil.`;
}

function Sponges({ trial }: { trial: Trial }) {
  return (
    <section className={panel}>
      <h2 className="mb-1">Dryer against dryer</h2>
      <table className="w-full text-sm">
        <thead>
          <tr className="text-left text-muted">
            <th className="font-normal">dryer</th>
            <th className="text-right font-normal">g an hour</th>
            <th className="text-right font-normal">exchange flow, m³/h</th>
          </tr>
        </thead>
        <tbody>
          {trial.sponges.map((sponge) => (
            <tr key={sponge.name} className="border-t border-line">
              <td className="py-1 font-bold">{sponge.name}</td>
              <td className="py-1 text-right num">
                {sponge.g_per_h ? pointsWords(sponge.g_per_h) : "not told"}
              </td>
              <td className="py-1 text-right num">{flowWords(trial, sponge)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

/** What it says of the filament, beside what is built in, and using it. */
function Says({ trial }: { trial: Trial }) {
  const { fit } = trial;
  const take = useTakeOver();
  const { notify } = useShell();
  const usable =
    fit !== null ||
    trial.start_pct !== null ||
    trial.mark !== null ||
    trial.sponges.some((one) => one.vent_m3_h !== null);
  if (!usable || isTooEarly(trial)) return null;
  return (
    <section className={panel}>
      <h2 className="mb-1">What it says</h2>
      {trial.kind === "sponge" && (
        <p className="text-sm">How much air each dryer exchanges: its plans and forecasts then count that.</p>
      )}
      {trial.start_pct && (
        <p className="text-sm">
          What the spool held when the coil was cut: with it the plan’s hours are surer than a weighing alone
          makes them.
        </p>
      )}
      {trial.mark && (
        <dl className="flex flex-col gap-2 text-sm">
          <Said name="It shows from" value={markWords(trial.mark.mark_pct)} />
          <Said name="Prints clean below" value={markWords(trial.mark.clean_pct)} />
        </dl>
      )}
      {fit && (
        <dl className="flex flex-col gap-2 text-sm">
          <Said
            name={`Diffusivity at ${temp(trial.temp_c ?? 0)}`}
            value={`${scientific(fit.diffusivity_m2_s.p50)} m²/s`}
            range={`${scientific(fit.diffusivity_m2_s.p05)} to ${scientific(fit.diffusivity_m2_s.p95)}`}
          />
          <Said
            name="Built in"
            value={`${scientific(fit.built_in_diffusivity_m2_s)} m²/s`}
            range={`× or ÷ ${fit.built_in_spread}`}
          />
          <Said name="Held at the start" value={pointsWords(fit.start_pct, " %")} />
          <Said
            name={trial.kind === "uptake" ? "Can hold" : "This air stops at"}
            value={pointsWords(fit.end_pct, " %")}
          />
          {fit.film_g_per_m && (
            <Said
              name="Film of water on it"
              value={`${pointsWords(fit.film_g_per_m)} g a metre, not counted`}
            />
          )}
        </dl>
      )}
      <Button
        kind="primary"
        className="mt-3"
        disabled={take.isPending}
        onClick={() => {
          take.mutate(trial.id, {
            onSuccess: ({ undo }) => {
              notify({ text: "Plans and forecasts use it from now on.", undo });
            },
          });
        }}
      >
        {takeWords(trial)}
      </Button>
      {take.error && (
        <p role="alert" className="mt-2 font-bold text-heat">
          {take.error.message}
        </p>
      )}
    </section>
  );
}

function takeWords(trial: Trial): string {
  if (trial.kind === "sponge") return "Use it for these dryers";
  if (trial.kind === "twin") return `Use it for ${trial.spool_name ?? ""}`;
  return `Use it for ${trial.material_name ?? ""}`;
}

function Said({ name, value, range }: { name: string; value: string; range?: string }) {
  return (
    <div>
      <dt className="text-muted">{name}</dt>
      <dd className="num font-bold">{value}</dd>
      {range !== undefined && <dd className="num text-muted">{range}</dd>}
    </div>
  );
}

function About({ trial }: { trial: Trial }) {
  const end = useEndTrial();
  const remove = useRemoveTrial();
  const navigate = useNavigate();
  const { notify } = useShell();
  const rows: [string, string][] = [
    ["Question", QUESTIONS[trial.kind].question],
    ["Began", day(new Date(trial.began_at))],
    ...(trial.scale_name === null ? [] : ([["Weighed on", trial.scale_name]] as [string, string][])),
    ["Room", `${temp(trial.room_temp_c)}, ${trial.room_rh_pct.toFixed(0)} %`],
  ];
  return (
    <section className={panel}>
      <h2 className="mb-1">About it</h2>
      <dl className="grid grid-cols-[auto_1fr] gap-x-3 gap-y-1 text-sm">
        {rows.map(([name, value]) => (
          <div key={name} className="contents">
            <dt className="text-muted">{name}</dt>
            <dd>{value}</dd>
          </div>
        ))}
      </dl>
      <div className="mt-3 flex gap-4 text-sm">
        {trial.closed_at === null && (
          <Button
            kind="link"
            onClick={() => {
              end.mutate(trial.id, {
                onSuccess: ({ undo }) => {
                  notify({ text: "The trial is ended.", undo });
                },
              });
            }}
          >
            end it
          </Button>
        )}
        <Button
          kind="link"
          onClick={() => {
            remove.mutate(trial.id, {
              onSuccess: ({ undo }) => {
                void navigate("/trials");
                notify({ text: "Removed the trial.", undo });
              },
            });
          }}
        >
          remove it
        </Button>
      </div>
    </section>
  );
}
