import type { Plan, Ticket } from "../../api/client";
import { fixed, percent, span } from "../../domain/numbers";
import { mass } from "../../domain/quantities";
import { sentence } from "../../domain/text";
import { later, when } from "../../domain/times";
import { DESICCANT_WORDS } from "../storage/words";
import { freshGrams } from "./cautionWords";
import {
  billWords,
  energyWords,
  readyWords,
  setAgainWords,
  settingWords,
  turnsRows,
  turnWords,
} from "./words";

const LEAST_SHOWN_G = 0.05; // what rounds to nothing is not said

/** What the desiccant in a closed dryer takes up, and when it is spent. */
function desiccantRows({ desiccant }: Ticket, at: (time: number) => string): [string, string][] {
  if (!desiccant) return [];
  const { kind, before_pct, after_pct, takes_g, gives_off_g, spent_h, needed_g } = desiccant;
  const does = takes_g < 0 ? `gives off ${mass(-takes_g, 1)}` : `takes up ${mass(takes_g, 1)}`;
  const first =
    gives_off_g > LEAST_SHOWN_G && takes_g > 0 ? `first gives off ${mass(gives_off_g, 1)}, then ` : "";
  const rows: [string, string][] = [
    [sentence(DESICCANT_WORDS[kind]), `${first}${does}`],
    ["Its own water", `${fixed(before_pct, 1)} → ${fixed(after_pct, 1)} %`],
  ];
  if (needed_g !== null && needed_g > 0) rows.push(["Enough, if fresh", freshGrams(needed_g)]);
  if (spent_h !== null)
    rows.push(["Too damp for clean", spent_h === 0 ? "from the start" : `from ${at(spent_h)}`]);
  return rows;
}

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
  rows.push(...desiccantRows(ticket, at), ["Energy", energyWords(ticket)]);
  if (bill) rows.push(["Costs", bill.cost]);
  return rows;
}
