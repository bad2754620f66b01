import { Button } from "@headlessui/react";
import type { Dryer, Plan } from "../../api/client";
import { link, panel } from "../../ui/classes";
import { leverWords } from "../../words/plan";
import type { PlanChange } from "./usePlanChoice";

interface Props {
  plan: Plan;
  dryers: Dryer[];
  onChange: (values: PlanChange) => void;
}

/** Where this dryer cannot: what could, each way computed. */
export function WhatCould({ plan, dryers, onChange }: Props) {
  const { levers, lanes } = plan;
  const dryerName = (id: number) => dryers.find((it) => it.id === id)?.name ?? "another dryer";
  const own = { temp_c: null, duration_h: null };
  return (
    <section aria-label="What could do it" className={panel}>
      <h2 className="mb-2">What could do it</h2>
      {levers.length === 0 ? (
        <p>
          None of your dryers, no drier air and no loose coil brings {lanes[0]?.spool.name} to its clean mark.
          Keep it where it is, or set a mark of your own on the left.
        </p>
      ) : (
        <ul className="flex flex-col gap-2">
          {levers.map((lever) => {
            const [what, run] = leverWords(lever, plan, dryerName);
            return (
              <li
                key={`${lever.kind} ${lever.dryer ?? ""}`}
                className="border-l-4 border-line pl-2 leading-tight"
              >
                <strong>{what}</strong>
                <span className="block text-sm text-muted">
                  {run}
                  {lever.kind === "other_dryer" && (
                    <Button
                      className={`${link} ml-2 text-ink`}
                      onClick={() => {
                        onChange({ dryer: String(lever.dryer), ...own });
                      }}
                    >
                      plan it
                    </Button>
                  )}
                  {lever.kind === "loose_coil" && (
                    <Button
                      className={`${link} ml-2 text-ink`}
                      onClick={() => {
                        onChange({ form: "loose", ...own });
                      }}
                    >
                      plan it
                    </Button>
                  )}
                </span>
              </li>
            );
          })}
        </ul>
      )}
    </section>
  );
}
