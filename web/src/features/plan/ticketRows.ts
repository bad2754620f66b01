import type { Plan, Ticket } from "../../api/client";
import { percent, span } from "../../domain/numbers";
import { mass } from "../../domain/quantities";
import { later, when } from "../../domain/times";
import {
  billWords,
  energyWords,
  readyWords,
  setAgainWords,
  settingWords,
  turnsRows,
  turnWords,
} from "./words";

/** The lines of a ticket: what to do, and what comes of it. */
export function ticketRows(plan: Plan, ticket: Ticket, now: Date): [string, string][] {
  const at = (time: number) => when(later(now, time), now);
  const [member] = ticket.members;
  const several = ticket.members.length > 1;
  const bill = plan.bill && billWords(plan.bill, now);
  const rows: [string, string][] = [
    ["Set", settingWords(ticket, plan.dryer.kind)],
    ["Timer", turnWords(ticket)],
    ...(ticket.turns.length > 1
      ? ([["Set it again", setAgainWords(ticket, now)]] as [string, string][])
      : []),
    ["Turn the spool over", at(ticket.turn_over_h)],
    ["Weigh again", ticket.weigh_at_h.map(at).join(", ") || "at the end"],
  ];
  if (member && !several) {
    rows.push(
      ["Prints clean from", readyWords(member, now, ticket).at],
      ["Stop", at(ticket.end_h)],
      ["Ends at", `${span(member.end_low_pct, member.end_high_pct)} %`],
      ...turnsRows(member),
      ["This air’s floor", `${percent(member.floor_pct)} %`],
      [
        "Water out",
        member.water_out_g === null
          ? "weigh in to know"
          : `about ${mass(Math.max(member.water_out_g, 0), 1)}`,
      ],
    );
  } else {
    rows.push(["Stop", at(ticket.end_h)]);
  }
  rows.push(["Energy", energyWords(ticket)]);
  if (bill) rows.push(["Costs", bill.cost]);
  return rows;
}
