import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useSearchParams } from "react-router";
import type { Material } from "../../api/client";
import { useRemoveMaterial } from "./acts";
import { materials as materialsQuery } from "./queries";
import { Button } from "../../components/Button";
import { useShell } from "../../components/shell";
import { PageHeading } from "../../components/PageHeading";
import { Skeleton } from "../../components/Skeleton";
import { Trouble } from "../../components/Trouble";
import { materialSentence } from "./words";
import { NewMaterial } from "./NewMaterial";
import { ProgrammeTable } from "./ProgrammeTable";
import { ValueTable } from "./ValueTable";

/** What is known, from where, how sure? Own changes stand beside the built-in row. */
export function MaterialsPage() {
  const { data, error, refetch } = useQuery(materialsQuery);
  const [params, setParams] = useSearchParams();
  const [adding, setAdding] = useState(false);
  if (error && !data) return <Trouble error={error} onRetry={refetch} />;
  if (!data) return <Skeleton page="Materials" rows={3} height="h-40" />;
  const chosen = data.find((material) => material.id === params.get("id")) ?? data[0];
  if (!chosen) return null;
  const open = (id: string) => {
    setParams({ id }, { replace: true });
  };
  return (
    <>
      <PageHeading page="Materials" className="mb-3">
        {materialSentence(chosen)}
      </PageHeading>
      <div className="grid gap-6 lane:grid-cols-[13rem_1fr]">
        <nav aria-label="Materials">
          <ul className="flex flex-wrap lane:block">
            {data.map((material) => (
              <li key={material.id}>
                <button
                  type="button"
                  aria-current={material.id === chosen.id}
                  className="w-full cursor-pointer border-l-4 border-transparent px-2.5 py-1 text-left aria-[current=true]:border-ink aria-[current=true]:bg-paper aria-[current=true]:font-bold"
                  onClick={() => {
                    open(material.id);
                  }}
                >
                  {material.short}
                  {changes(material) > 0 && (
                    <span className="text-sm font-normal text-muted"> · {changes(material)} own</span>
                  )}
                </button>
              </li>
            ))}
          </ul>
          <Button
            kind="quiet"
            className="mt-3"
            onClick={() => {
              setAdding(true);
            }}
          >
            Begin your own
          </Button>
        </nav>
        <MaterialView key={chosen.id} material={chosen} />
      </div>
      {adding && (
        <NewMaterial
          materials={data}
          onAdded={open}
          onClose={() => {
            setAdding(false);
          }}
        />
      )}
    </>
  );
}

const changes = (material: Material): number =>
  [...material.values, ...material.programmes].filter((value) => value.own).length;

function MaterialView({ material }: { material: Material }) {
  const { notify } = useShell();
  const remove = useRemoveMaterial();
  return (
    <div className="flex min-w-0 flex-col gap-4">
      <ValueTable material={material} />
      <ProgrammeTable material={material} />
      {material.notes.length > 0 && (
        <ul className="text-sm text-muted">
          {material.notes.map((note) => (
            <li key={note}>{note}</li>
          ))}
        </ul>
      )}
      {material.own && (
        <p>
          <Button
            kind="link"
            onClick={() => {
              remove.mutate(material.id, {
                onSuccess: ({ undo }) => {
                  notify({ text: `Removed ${material.name}.`, undo });
                },
              });
            }}
          >
            remove {material.name}
          </Button>
          {remove.error && (
            <span role="alert" className="ml-3 font-bold text-heat">
              {remove.error.message}
            </span>
          )}
        </p>
      )}
    </div>
  );
}
