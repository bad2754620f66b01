import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useSearchParams } from "react-router";
import type { Dryer, DryerKind, Scale } from "../../api/client";
import { dryerKinds, dryers as dryersQuery, scales as scalesQuery } from "./queries";
import { standingLink } from "../../components/classes";
import { Button } from "../../components/Button";
import { PageHeading } from "../../components/PageHeading";
import { Choice } from "../../components/Choice";
import { Skeleton } from "../../components/Skeleton";
import { Trouble } from "../../components/Trouble";
import { kitSentence } from "./words";
import { Devices } from "./Devices";
import { CalibrationPanel } from "./CalibrationPanel";
import { DryerForm } from "./DryerForm";
import { Scales } from "./Scales";

const NEW = 0;

/** What do my dryer and scale really do? */
export function EquipmentPage() {
  const dryers = useQuery(dryersQuery);
  const kinds = useQuery(dryerKinds);
  const scales = useQuery(scalesQuery);
  const error = dryers.error ?? kinds.error ?? scales.error;
  if (error) {
    return (
      <Trouble
        error={error}
        onRetry={() => Promise.all([dryers.refetch(), kinds.refetch(), scales.refetch()])}
      />
    );
  }
  if (!dryers.data || !kinds.data || !scales.data) return <Skeleton page="Kit" rows={3} height="h-40" />;
  return <Kit dryers={dryers.data} kinds={kinds.data} scales={scales.data} />;
}

interface KitProps {
  dryers: Dryer[];
  kinds: DryerKind[];
  scales: Scale[];
}

function Kit({ dryers, kinds, scales }: KitProps) {
  const [params, setParams] = useSearchParams();
  const [adding, setAdding] = useState(dryers.length === 0);
  const chosen = dryers.find((dryer) => dryer.id === Number(params.get("dryer"))) ?? dryers[0];
  const kindName = (dryer: Dryer) => kinds.find((kind) => kind.kind === dryer.kind)?.name ?? dryer.kind;
  const open = (id: number) => {
    setAdding(id === NEW);
    setParams(id === NEW ? {} : { dryer: String(id) }, { replace: true });
  };
  const shown = adding ? undefined : chosen;
  return (
    <>
      <PageHeading page="Kit" className="mb-3">
        {shown ? kitSentence(shown) : "Tell Darre what you dry in."}
      </PageHeading>
      <div className="grid gap-6 lane:grid-cols-[15rem_1fr] xl:grid-cols-[15rem_1fr_20rem]">
        <div className="flex flex-col gap-4">
          {dryers.length > 0 && (
            <Choice
              label="Dryers"
              value={shown?.id ?? NEW}
              options={dryers.map((dryer) => ({
                value: dryer.id,
                name: dryer.name,
                note: dryer.in_service ? kindName(dryer) : "out of service",
              }))}
              onChoose={open}
            />
          )}
          <Button
            kind="quiet"
            className="self-start"
            onClick={() => {
              open(NEW);
            }}
          >
            Add a dryer
          </Button>
          {dryers.length > 0 && (
            <p className="text-sm">
              <Link className={standingLink} to="/kit/dryers">
                Side by side, and what another would save
              </Link>
            </p>
          )}
          <Scales scales={scales} />
          <p className="text-sm">
            <Link className={standingLink} to="/kit/empty-spools">
              What empty spools weigh
            </Link>
          </p>
          <Devices dryers={dryers} scales={scales} />
        </div>
        <DryerForm key={`form ${shown?.id ?? NEW}`} dryer={shown} kinds={kinds} onKept={open} />
        {shown && <CalibrationPanel key={`calibration ${shown.id}`} dryer={shown} />}
      </div>
    </>
  );
}
