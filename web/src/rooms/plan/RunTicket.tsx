import { Button } from "@headlessui/react";
import { useState } from "react";
import { useNavigate } from "react-router";
import type { Plan } from "../../api/client";
import { useStartRun } from "../../api/mutations";
import type { School } from "../../api/queries";
import { degrees, fixed, hours, percent, span } from "../../format/numbers";
import { later, when } from "../../format/times";
import { useShell } from "../../shell/shell";
import { Field } from "../../ui/Field";
import { link, panel, primary } from "../../ui/classes";
import { cautionText, limitReason } from "../../words/plan";

/** Shorter than this is no reason; the server holds the same rule and has the last word. */
const LEAST_REASON = 4;

function rows(plan: Plan, now: Date): [string, string][] {
  const { ticket } = plan;
  const at = (time: number) => when(later(now, time), now);
  return [
    ["Dial the dryer to", `${degrees(ticket.dial_c)} °C`],
    ["Timer", ticket.turns_h.map(hours).join(", then ")],
    ["Turn the spool", at(ticket.turn_over_h)],
    ["Weigh again", ticket.weigh_at_h.map(at).slice(0, 2).join(", ")],
    ["Stop", at(ticket.duration_h)],
    ["Ends at", `${span(ticket.end_low_pct, ticket.end_high_pct)} %`],
    ["This air's floor", `${percent(ticket.floor_pct)} %`],
    [
      "Water out",
      ticket.water_out_g === null
        ? "weigh in to know"
        : `about ${fixed(Math.max(ticket.water_out_g, 0), 1)} g`,
    ],
  ];
}

/** What to do at the bench, what to mind, and the start. */
export function RunTicket({ plan, school }: { plan: Plan; school: School }) {
  const { weigh, notify } = useShell();
  const navigate = useNavigate();
  const start = useStartRun();
  const [reason, setReason] = useState("");
  const [startKey, setStartKey] = useState(() => crypto.randomUUID());
  const { ticket, broken } = plan;
  const fatal = broken.some((limit) => !limit.overridable);
  const wantsReason = broken.length > 0 && !fatal;
  const unready = fatal || (wantsReason && reason.trim().length < LEAST_REASON);
  const busy = plan.busy_with[0];
  const cautions = ticket.cautions.filter((it) => it.kind !== "limit"); // those stand with the reason that they want

  function startUnweighed() {
    start.mutate(
      {
        spool: plan.lane.spool.id,
        dryer: plan.dryer.id,
        school,
        form: plan.form,
        temp_c: ticket.air_c,
        duration_h: ticket.duration_h,
        override_reason: reason,
        weigh_in: null,
        client_key: startKey,
      },
      {
        onSuccess: (answer) => {
          setStartKey(crypto.randomUUID());
          notify({ text: `Started drying ${plan.lane.spool.name}.`, undo: answer.undo });
          void navigate(`/runs/${answer.run.id}`);
        },
      },
    );
  }

  return (
    <section aria-label="Run ticket" className="flex flex-col gap-3 lane:col-start-2 xl:col-start-auto">
      <div className={panel}>
        <h2 className="text-sm font-normal text-muted">Run ticket · {plan.lane.spool.name}</h2>
        <p className="flex gap-5 leading-none">
          <span>
            <span className="text-5xl font-bold tracking-tight">{degrees(ticket.air_c)}°</span>
            <span className="mt-1 block text-sm text-muted">air at the spool</span>
          </span>
          <span>
            <span className="text-5xl font-bold tracking-tight">
              {Number(ticket.duration_h.toFixed(2))} h
            </span>
            <span className="mt-1 block text-sm text-muted">of heat</span>
          </span>
        </p>
        <dl className="mt-3 mb-4 grid grid-cols-[auto_1fr] gap-x-3 gap-y-1">
          {rows(plan, new Date()).map(([name, value]) => (
            <div key={name} className="contents">
              <dt className="text-muted">{name}</dt>
              <dd className="text-right num font-bold">{value}</dd>
            </div>
          ))}
        </dl>
        {busy && (
          <p className="mb-3 border-l-4 border-line pl-2 text-sm">
            {plan.dryer.name} is running at {degrees(busy.temp_c)} °C with {busy.spool_name} until{" "}
            {when(later(new Date(busy.started_at), busy.duration_h), new Date())}.
          </p>
        )}
        {wantsReason && (
          <div className="mb-3 border-l-4 border-heat pl-2">
            <p className="text-sm">
              <strong className="text-heat">Past a limit:</strong>{" "}
              {broken.map((limit) => limitReason(limit, plan)).join("; ")}.
            </p>
            <Field label="Why do you want it?" value={reason} onText={setReason} />
          </div>
        )}
        <Button
          className={primary}
          disabled={unready}
          onClick={() => {
            weigh({ kind: "start", plan, school, reason });
          }}
        >
          Weigh in and start
        </Button>
        <Button
          className={`${link} mt-3 block text-sm disabled:opacity-50`}
          disabled={unready || start.isPending}
          onClick={startUnweighed}
        >
          start without weighing
        </Button>
        {start.error && (
          <p role="alert" className="mt-2 font-bold text-heat">
            {start.error.message}
          </p>
        )}
      </div>
      <ul aria-label="Cautions" className="flex flex-col gap-2 text-sm">
        {cautions.map((caution, index) => (
          <li
            key={index}
            className={`border-l-4 pl-2 ${caution.serious ? "border-heat" : "border-line text-muted"}`}
          >
            {caution.serious && <span className="font-bold text-heat">Mind: </span>}
            {cautionText(caution, plan)}
          </li>
        ))}
      </ul>
    </section>
  );
}
