import { useQueries, useQuery } from "@tanstack/react-query";
import { useSearchParams } from "react-router";
import { lanes as lanesQuery } from "../rack/queries";
import { coils as coilsQuery, label } from "./queries";
import { length, mass } from "../../domain/quantities";
import { Button } from "../../components/Button";
import { PageHeading } from "../../components/PageHeading";
import { SomePicker } from "../../components/Picker";
import { Skeleton } from "../../components/Skeleton";
import { Trouble } from "../../components/Trouble";

/** Tags for the coils of a spool: what is written on them, and room for what is weighed. */
function CoilLabels({ spool }: { spool: { id: number; name: string } }) {
  const { data: coils = [] } = useQuery(coilsQuery(spool.id));
  const left = coils.filter((coil) => !coil.used_up_at);
  if (left.length === 0) return null;
  return (
    <ul
      aria-label="Tags of its coils"
      className="mt-4 grid grid-cols-2 gap-3 xl:grid-cols-4 print:grid-cols-3"
    >
      {left.map((coil) => (
        <li
          key={coil.id}
          className="break-inside-avoid border-2 border-dashed border-line bg-white p-3 text-black"
        >
          <p className="truncate text-lg font-bold">{coil.name}</p>
          <p className="truncate text-sm">
            {spool.name}
            {coil.length_m != null && ` · ${length(coil.length_m)}`}
            {coil.soaked && " · soaked"}
          </p>
          <p className="mt-2 text-sm">……… g on ………</p>
          <p className="text-sm">……… g on ………</p>
        </li>
      ))}
    </ul>
  );
}

/** Labels to cut out: name, material, and a code that leads to the spool's page. */
export function LabelsPage() {
  const [params, setParams] = useSearchParams();
  const { data: lanes, error, refetch } = useQuery(lanesQuery);
  const asked = params.get("spools");
  const wanted = asked === null ? null : asked.split(",").map(Number);
  const shown = (lanes ?? []).filter((lane) => wanted?.includes(lane.spool.id) ?? true);
  const codes = useQueries({ queries: shown.map((traced) => label(traced.spool.id)) });
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
            options={lanes.map((lane) => ({
              value: lane.spool.id,
              name: lane.spool.name,
              note: lane.material_short,
            }))}
            values={shown.map((traced) => traced.spool.id)}
            onChoose={(ids) => {
              setParams({ spools: ids.join(",") }, { replace: true });
            }}
          />
        </div>
        <Button
          kind="primary"
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
        {shown.map((traced, index) => (
          <li
            key={traced.spool.id}
            className="flex h-36 break-inside-avoid items-stretch gap-3 border-2 border-dashed border-line bg-white p-3 text-black"
          >
            <img
              alt={`Code that leads to ${traced.spool.name}`}
              className="aspect-square h-full"
              src={
                codes[index]?.data
                  ? `data:image/svg+xml,${encodeURIComponent(codes[index].data.svg)}`
                  : undefined
              }
            />
            <div className="min-w-0">
              <p className="truncate text-xl font-bold">{traced.spool.name}</p>
              <p>
                {traced.material_short}
                {traced.spool.colour && ` · ${traced.spool.colour}`}
              </p>
              <p className="num text-sm">empty {mass(traced.spool.tare_g, 1)}</p>
              <p className="mt-2 text-sm">weighed dry: ……… g on ………</p>
            </div>
          </li>
        ))}
      </ul>
      {shown.length === 1 && shown[0] && <CoilLabels spool={shown[0].spool} />}
    </>
  );
}
