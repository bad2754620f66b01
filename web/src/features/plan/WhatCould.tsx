import { useQuery } from "@tanstack/react-query";
import type { Dryer, Plan } from "../../api/client";
import { Button } from "../../components/Button";
import { Trouble } from "../../components/Trouble";
import { panel } from "../../components/classes";
import { alternativeWords } from "./words";
import { type SetupQuery, alternatives as alternativesQuery } from "./queries";
import type { PlanChange } from "./usePlanChoice";

interface Props {
  plan: Plan;
  setup: SetupQuery;
  dryers: Dryer[];
  onChange: (values: PlanChange) => void;
}

/** Where this dryer cannot: what could, each way computed. */
export function WhatCould({ plan, setup, dryers, onChange }: Props) {
  const { lanes } = plan;
  const { data: alternatives, error, refetch } = useQuery(alternativesQuery(setup));
  const dryerName = (id: number) => dryers.find((dryer) => dryer.id === id)?.name ?? "another dryer";
  const own = { temp_c: null, duration_h: null };
  return (
    <section aria-label="What could do it" className={panel}>
      <h2 className="mb-2">Alternatives</h2>
      {error && <Trouble error={error} onRetry={refetch} />}
      {!error && !alternatives && <p role="status">Trying your other dryers, drier air and a loose coil …</p>}
      {alternatives?.length === 0 && (
        <p>
          Nothing we can compute gets {lanes[0]?.spool.name} clean: no other dryer of yours, no drier air, no
          loose coil. Leave it where it is, or set your own threshold on the left.
        </p>
      )}
      {alternatives && alternatives.length > 0 && (
        <ul className="flex flex-col gap-2">
          {alternatives.map((alternative) => {
            const [what, run] = alternativeWords(alternative, plan, dryerName);
            return (
              <li
                key={`${alternative.kind} ${alternative.dryer ?? ""}`}
                className="border-l-4 border-line pl-2 leading-tight"
              >
                <strong>{what}</strong>
                <span className="block text-sm text-muted">
                  {run}
                  {alternative.kind === "other_dryer" && (
                    <Button
                      kind="link"
                      className="ml-2 text-ink"
                      onClick={() => {
                        onChange({ dryer: String(alternative.dryer), ...own });
                      }}
                    >
                      plan it
                    </Button>
                  )}
                  {alternative.kind === "loose_coil" && (
                    <Button
                      kind="link"
                      className="ml-2 text-ink"
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
