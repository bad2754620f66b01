import type { RunRow } from "../../api/client";
import { hours } from "../../domain/numbers";

interface Reminder {
  /** The same act of the same run is told once. */
  key: string;
  /** Hours after the run's start. */
  at: number;
  text: string;
}

/** What a running run will ask of the person, with when. */
function reminders({ run, verdict }: RunRow): Reminder[] {
  if (run.ended_at !== null) return [];
  const of = (what: string, at: number, text: string): Reminder => ({ key: `${run.id} ${what}`, at, text });
  const { name } = run.spool;
  const turn = run.must_turn ? [of("turn", run.turn_over_h, `Turn ${name} over in ${run.dryer.name}.`)] : [];
  const weigh =
    verdict.next_weigh_h === null
      ? []
      : [
          of(
            `weigh ${verdict.next_weigh_h.toFixed(1)}`,
            verdict.next_weigh_h,
            `Weigh ${name}: a weighing is most useful now.`,
          ),
        ];
  const timer = run.timer
    ? [
        of(
          `timer ${run.timer.set_at_h.toFixed(1)}`,
          run.timer.set_at_h,
          `Set the timer of ${run.dryer.name} again: ${hours(run.timer.set_h)}.`,
        ),
      ]
    : [];
  return [
    ...turn,
    ...weigh,
    ...timer,
    of("end", run.end_h, `${name}: the planned time in ${run.dryer.name} is over. Weigh it now.`),
  ];
}

/** What came due between two looks at the clock (ms since 1970). */
export function due(rows: readonly RunRow[], from: number, to: number): Reminder[] {
  return rows.flatMap((row) => {
    const began = new Date(row.run.started_at).getTime();
    return reminders(row).filter(({ at }) => {
      const moment = began + at * 3_600_000;
      return moment > from && moment <= to;
    });
  });
}
