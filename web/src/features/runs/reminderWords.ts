import type { RunRow } from "../../api/client";
import type { components } from "../../api/schema";
import { hours } from "../../domain/numbers";

type NextStart = components["schemas"]["NextStart"];

interface Reminder {
  /** The same act of the same run is told once. */
  key: string;
  text: string;
}

interface OfRun extends Reminder {
  /** Hours after the run's start. */
  at: number;
}

/** What a running run will ask of the person, with when. */
function reminders({ run, verdict }: RunRow): OfRun[] {
  if (run.ended_at !== null) return [];
  const of = (what: string, at: number, text: string): OfRun => ({ key: `${run.id} ${what}`, at, text });
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

/** What came due between two looks at the clock (ms since 1970): of what runs, and of what is to be loaded. */
export function due(
  rows: readonly RunRow[],
  starts: readonly NextStart[],
  from: number,
  to: number,
): Reminder[] {
  const isDue = (moment: number) => moment > from && moment <= to;
  const ofRuns = rows.flatMap((row) => {
    const began = Date.parse(row.run.started_at);
    return reminders(row).filter(({ at }) => isDue(began + at * 3_600_000));
  });
  const toLoad = starts
    .filter((start) => isDue(Date.parse(start.starts_at)))
    .map((start) => ({
      key: `load ${start.id} ${start.starts_at}`,
      text: `Load ${start.spool_name} into ${start.dryer_name} now, as the schedule says.`,
    }));
  return [...ofRuns, ...toLoad];
}
