import type { Plan, Ticket } from "../../api/client";
import { hours, percent } from "../../domain/numbers";
import { temp } from "../../domain/quantities";
import { day, later, when } from "../../domain/times";
import { massUnit } from "../../domain/units";
import { misfitWords, planSentence, readyWords, settingWords, turnWords, unattendedWords } from "./words";
import { cautionText } from "./cautionWords";
import { ticketRows } from "./ticketRows";

/** What lets the water out of this dryer. */
function airActs({ dryer }: Plan): string {
  const acts = [dryer.vent_m3_h === 0 ? "" : " Vent open.", dryer.fan ? " Fan on." : ""];
  return acts.join("");
}

/** The ticket on paper: to be followed at the bench, with room for what is weighed. */
export function TicketSheet({ plan, ticket, now }: { plan: Plan; ticket: Ticket; now: Date }) {
  const at = (time: number) => when(later(now, time), now);
  const acts: [string, string][] = [
    [
      at(0),
      `Weigh in. Set ${settingWords(ticket, plan.dryer.kind)}, timer ${turnWords(ticket)}.${airActs(plan)}`,
    ],
    ...ticket.turns
      .slice(1)
      .map((turn): [number, string] => [turn.at_h, `Set the timer again: ${hours(turn.set_h)}.`])
      .concat(
        ticket.weigh_at_h.map((time): [number, string] => [time, "Weigh, quickly, on the same scale."]),
        [[ticket.turn_over_h, "Turn the spool over."]],
      )
      .sort(([a], [b]) => a - b)
      .map(([time, act]): [string, string] => [at(time), act]),
    [at(ticket.end_h), "Stop. Weigh out while it is warm in the hand, not hot; then put it away dry."],
  ];
  return (
    <div className="hidden text-black print:block">
      <p className="text-sm">darre · run ticket · printed {day(now)}, times as if it starts now</p>
      <p className="mt-2 text-3xl font-bold">{planSentence(plan)}</p>
      <p className="mt-1">
        {plan.lanes.map((lane) => `${lane.spool.name} (${lane.material_short})`).join(", ")} in{" "}
        {plan.dryer.name} · {temp(ticket.air_c)} at the spool for {hours(ticket.duration_h)}
      </p>
      <table className="mt-4 w-full border-collapse text-left">
        <thead>
          <tr className="border-b-2 border-black">
            <th className="w-32 py-1 font-normal">when</th>
            <th className="py-1 font-normal">what</th>
            <th className="w-40 py-1 font-normal">read, {massUnit()}</th>
          </tr>
        </thead>
        <tbody>
          {acts.map(([time, act], index) => (
            <tr key={index} className="border-b border-black/40">
              <td className="py-2 num">{time}</td>
              <td className="py-2">☐ {act}</td>
              <td className="py-2">{/^(Weigh|Stop)/.test(act) ? "…………………" : ""}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <div className="mt-5 grid grid-cols-2 gap-8">
        <dl className="grid grid-cols-[auto_1fr] content-start gap-x-4">
          {ticketRows(plan, ticket, now).map(([name, value]) => (
            <div key={name} className="contents">
              <dt>{name}</dt>
              <dd className="text-right num font-bold">{value}</dd>
            </div>
          ))}
        </dl>
        <ul>
          {ticket.members.map((member, index) => (
            <li key={index} className="mb-1">
              <strong>{plan.lanes[index]?.spool.name}</strong>: prints clean under {percent(member.aim_pct)}{" "}
              %; from {readyWords(member, now, ticket).at}
              {readyWords(member, now, ticket).band && ` (${readyWords(member, now, ticket).band})`}
            </li>
          ))}
        </ul>
      </div>
      <ul className="mt-5 list-disc pl-5 text-sm">
        {unattendedWords(ticket, now).map((words) => (
          <li key={words}>{words}</li>
        ))}
        {plan.misfits.map((misfit) => (
          <li key={misfit.measure}>
            <strong>{misfitWords(misfit, plan)}</strong>
          </li>
        ))}
        {ticket.cautions.map((caution, index) => (
          <li key={index} className={caution.serious ? "font-bold" : ""}>
            {cautionText(caution, plan)}
          </li>
        ))}
      </ul>
      <p className="mt-3 text-sm">Guidance, not approval: the makers’ manuals and local rules come first.</p>
    </div>
  );
}
