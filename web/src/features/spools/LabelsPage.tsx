import { Button } from "@headlessui/react";
import { useQueries, useQuery } from "@tanstack/react-query";
import { useSearchParams } from "react-router";
import { lanes as lanesQuery } from "../rack/queries";
import { label } from "./queries";
import { mass } from "../../domain/quantities";
import { PageHeading } from "../../components/PageHeading";
import { SomePicker } from "../../components/Picker";
import { Skeleton } from "../../components/Skeleton";
import { Trouble } from "../../components/Trouble";
import { primary } from "../../components/classes";

/** Labels to cut out: name, material, and a code that leads to the spool's page. */
export function LabelsPage() {
  const [params, setParams] = useSearchParams();
  const { data: lanes, error, refetch } = useQuery(lanesQuery);
  const asked = params.get("spools");
  const wanted = asked === null ? null : asked.split(",").map(Number);
  const shown = (lanes ?? []).filter((it) => wanted?.includes(it.spool.id) ?? true);
  const codes = useQueries({ queries: shown.map((it) => label(it.spool.id)) });
  if (error && !lanes) return <Trouble error={error} onRetry={refetch} />;
  if (!lanes) return <Skeleton page="Labels" rows={3} height="h-32" />;
  return (
    <>
      <div className="mb-4 flex flex-wrap items-end gap-4 print:hidden">
        <PageHeading page="Labels" className="grow">
          {shown.length} {shown.length === 1 ? "label" : "labels"}, ready to print.
        </PageHeading>
        <div className="w-64">
          <SomePicker
            label="For"
            none="none"
            options={lanes.map((it) => ({
              value: it.spool.id,
              name: it.spool.name,
              note: it.material_short,
            }))}
            values={shown.map((it) => it.spool.id)}
            onChoose={(ids) => {
              setParams({ spools: ids.join(",") }, { replace: true });
            }}
          />
        </div>
        <Button
          className={primary}
          onClick={() => {
            window.print();
          }}
        >
          Print
        </Button>
      </div>
      <ul
        aria-label="Labels"
        className="grid grid-cols-1 gap-3 sm:grid-cols-2 xl:grid-cols-3 print:grid-cols-2"
      >
        {shown.map((it, index) => (
          <li
            key={it.spool.id}
            className="flex h-36 break-inside-avoid items-stretch gap-3 border-2 border-dashed border-line bg-white p-3 text-black"
          >
            <img
              alt={`Code that leads to ${it.spool.name}`}
              className="aspect-square h-full"
              src={
                codes[index]?.data
                  ? `data:image/svg+xml,${encodeURIComponent(codes[index].data.svg)}`
                  : undefined
              }
            />
            <div className="min-w-0">
              <p className="truncate text-xl font-bold">{it.spool.name}</p>
              <p>
                {it.material_short}
                {it.spool.colour && ` · ${it.spool.colour}`}
              </p>
              <p className="num text-sm">empty {mass(it.spool.tare_g, 1)}</p>
              <p className="mt-2 text-sm">weighed dry: ……… g on ………</p>
            </div>
          </li>
        ))}
      </ul>
    </>
  );
}
