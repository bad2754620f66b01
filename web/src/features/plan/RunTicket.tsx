import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import type { Plan, Ticket } from "../../api/client";
import { fixed, percent, span } from "../../domain/numbers";
import { bareTemp, temp } from "../../domain/quantities";
import { later, when } from "../../domain/times";
import { Button } from "../../components/Button";
import { useShell } from "../../components/shell";
import { Field } from "../../components/Field";
import { link, panel } from "../../components/classes";
import {
  billWords,
  limitReason,
  misfitWords,
  readyWords,
  scaleCheckWords,
  twinWords,
  unattendedWords,
} from "./words";
import { cautionText } from "./cautionWords";
import { ticketRows } from "./ticketRows";
import { scales as scalesQuery } from "../equipment/queries";
import { SaveProgramme } from "./SaveProgramme";
import { TicketSheet } from "./TicketSheet";
import { useStartWithoutWeighing } from "./useStartWithoutWeighing";

/** What to do at the bench, what to mind, and the start. */
export function RunTicket({ plan, ticket, stale }: { plan: Plan; ticket: Ticket; stale: boolean }) {
  const now = new Date();
  const bill = plan.bill && billWords(plan.bill, now);
  const [member] = ticket.members;
  return (
    <section aria-label="Run ticket" className="flex flex-col gap-3">
      <div className={`${panel} print:hidden`}>
        <h2 className="mb-1 text-sm font-normal text-muted">
          Run ticket · {plan.lanes.map((lane) => lane.spool.name).join(" + ")}
        </h2>
        <p className="flex gap-5 leading-none">
          <span>
            <span className="text-5xl font-bold tracking-tight">{bareTemp(ticket.air_c)}°</span>
            <span className="mt-1 block text-sm text-muted">air at the spool</span>
          </span>
          <span>
            <span className="text-5xl font-bold tracking-tight">
              {Number(ticket.duration_h.toFixed(2))} h
            </span>
            <span className="mt-1 block text-sm text-muted">of heat</span>
          </span>
        </p>
        <dl className="my-3 flex flex-col gap-0.5">
          {ticketRows(plan, ticket, now).map(([name, value]) => (
            <div key={name} className="flex justify-between gap-3">
              <dt className="text-muted">{name}</dt>
              <dd className="text-right num font-bold">{value}</dd>
            </div>
          ))}
        </dl>
        {member && ticket.members.length === 1 && readyWords(member, now, ticket).band && (
          <p className="mb-2 text-sm text-muted">{readyWords(member, now, ticket).band}.</p>
        )}
        {ticket.members.length > 1 && <CoDried plan={plan} ticket={ticket} now={now} />}
        <Unattended ticket={ticket} now={now} />
        <WillItTell plan={plan} />
        {plan.twin && (
          <p className="mb-2 border-l-4 border-line pl-2 text-sm">
            {twinWords(plan.twin)}{" "}
            <Link
              to={`/trials/new?kind=twin&spool=${plan.lanes[0]?.spool.id ?? ""}&temp_c=${plan.twin.bake_c}&length_m=${plan.twin.length_m}`}
              className={link}
            >
              bake a coil
            </Link>
          </p>
        )}
        {bill?.wait && <p className="mb-2 text-sm text-muted">{bill.wait}</p>}
        <Start plan={plan} ticket={ticket} now={now} stale={stale} />
        <p className="mt-2 flex flex-wrap gap-x-4 text-sm">
          <Button
            kind="link"
            onClick={() => {
              window.print();
            }}
          >
            print the ticket
          </Button>
          <SaveProgramme plan={plan} ticket={ticket} />
        </p>
      </div>
      <Cautions plan={plan} ticket={ticket} />
      <TicketSheet plan={plan} ticket={ticket} now={now} />
    </section>
  );
}

/** What nobody will be there for, by the hours at home in the settings. */
function Unattended({ ticket, now }: { ticket: Ticket; now: Date }) {
  return unattendedWords(ticket, now).map((words) => (
    <p key={words} className="mb-2 border-l-4 border-heat pl-2 text-sm">
      {words}
    </p>
  ));
}

/** Said before the start where the scale will not be able to tell, with what would. */
function WillItTell({ plan }: { plan: Plan }) {
  const { data: scales = [] } = useQuery(scalesQuery);
  const words = scaleCheckWords(plan.scale_check, scales);
  return words === null ? null : <p className="mb-2 border-l-4 border-line pl-2 text-sm">{words}</p>;
}

/** Who goes in, when each is ready, who is the last and who could leave early. */
function CoDried({ plan, ticket, now }: { plan: Plan; ticket: Ticket; now: Date }) {
  return (
    <ul aria-label="Who goes in" className="mb-3 border-t border-line text-sm">
      {ticket.members.map((member, at) => {
        const ready = readyWords(member, now, ticket);
        return (
          <li key={plan.lanes[at]?.spool.id} className="border-b border-line py-1 leading-tight">
            <span className="flex justify-between gap-2">
              <strong>{plan.lanes[at]?.spool.name}</strong>
              <span className="num">{span(member.end_low_pct, member.end_high_pct)} %</span>
            </span>
            <span className="text-muted">
              {member.ready_h === 0
                ? "clean already: could stay out"
                : member.ready_h === null
                  ? `stays above its clean threshold of ${percent(member.aim_pct)} %`
                  : `clean from ${ready.at}${ticket.last === at ? ", the last" : ", could leave then"}`}
            </span>
          </li>
        );
      })}
    </ul>
  );
}

function Start({ plan, ticket, now, stale }: { plan: Plan; ticket: Ticket; now: Date; stale: boolean }) {
  const { weigh } = useShell();
  const [reason, setReason] = useState("");
  const start = useStartWithoutWeighing(plan, ticket, reason);
  const { broken } = plan;
  const fatal = broken.some((limit) => !limit.overridable);
  const wantsReason = broken.length > 0 && !fatal;
  const unready = stale || fatal || (wantsReason && reason.trim().length < plan.least_reason);
  const busy = plan.busy_with[0];
  return (
    <>
      {busy && (
        <p className="mb-3 border-l-4 border-line pl-2 text-sm">
          {plan.dryer.name} is running at {temp(busy.temp_c)} with {busy.spool_name} until{" "}
          {when(later(new Date(busy.started_at), busy.end_h), now)}.
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
      <Ways
        disabled={unready}
        starting={start.busy}
        onWeigh={() => {
          weigh({ kind: "start", plan, ticket, reason });
        }}
        onStart={start.act}
      />
      {start.error && (
        <p role="alert" className="mt-2 font-bold text-heat">
          {start.error}
        </p>
      )}
    </>
  );
}

const AS_FIRST = { kind: "primary" } as const;
const AS_LINK = { kind: "link", className: "text-sm disabled:opacity-50" } as const;

interface WaysProps {
  disabled: boolean;
  starting: boolean;
  onWeigh: () => void;
  onStart: () => void;
}

/** Weighed or not: what can be done with what is there comes first, and is the larger. */
function Ways({ disabled, starting, onWeigh, onStart }: WaysProps) {
  const scaleless = useQuery(scalesQuery).data?.length === 0;
  const weighed = (
    <Button key="weighed" {...(scaleless ? AS_LINK : AS_FIRST)} disabled={disabled} onClick={onWeigh}>
      {scaleless ? "weigh in and start" : "Weigh in and start"}
    </Button>
  );
  const unweighed = (
    <Button
      key="unweighed"
      {...(scaleless ? AS_FIRST : AS_LINK)}
      disabled={disabled || starting}
      onClick={onStart}
    >
      {scaleless ? "Start without weighing" : "start without weighing"}
    </Button>
  );
  return (
    <div className="flex flex-col items-start gap-2">
      {scaleless ? [unweighed, weighed] : [weighed, unweighed]}
    </div>
  );
}

function Cautions({ plan, ticket }: { plan: Plan; ticket: Ticket }) {
  const told = ticket.cautions.filter((caution) => caution.kind !== "limit"); // those stand with the reason that they want
  return (
    <ul aria-label="Cautions" className="flex flex-col gap-2 text-sm print:hidden">
      {plan.misfits.map((misfit) => (
        <li key={`${misfit.measure} ${fixed(misfit.spool ?? -1, 0)}`} className="border-l-4 border-heat pl-2">
          <span className="font-bold text-heat">Caution: </span>
          {misfitWords(misfit, plan)}
        </li>
      ))}
      {told.map((caution, index) => (
        <li
          key={index}
          className={`border-l-4 pl-2 ${caution.serious ? "border-heat" : "border-line text-muted"}`}
        >
          {caution.serious && <span className="font-bold text-heat">Caution: </span>}
          {cautionText(caution, plan)}
        </li>
      ))}
    </ul>
  );
}
