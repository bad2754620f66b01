import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useSearchParams } from "react-router";
import type { Holding } from "../../api/client";
import { useChangePlace } from "./acts";
import { keep as keepQuery, loggedIngress } from "./queries";
import { humidityTable } from "../../charts/tables";
import { SaveTable } from "../../components/SaveTable";
import { HumidityChart } from "../../charts/HumidityChart";
import { fixed, percent } from "../../domain/numbers";
import { mass } from "../../domain/quantities";
import { Button } from "../../components/Button";
import { useShell } from "../../components/shell";
import { PageHeading } from "../../components/PageHeading";
import { Choice } from "../../components/Choice";
import { Skeleton } from "../../components/Skeleton";
import { Trouble } from "../../components/Trouble";
import { panel } from "../../components/classes";
import { desiccantLine, ingressLine, storageSentence, PLACE_WORDS, regenerationLines, span } from "./words";
import { FillSlip, PackSlip } from "./DesiccantSlips";
import { PlaceSlip } from "./PlaceSlip";
import { RoomAirSlip } from "./RoomAirSlip";

type Open = "place" | "change" | "fill" | "pack" | "air" | null;

/** Will it stay dry? Containers, what is in them, how long, and the desiccant. */
export function StoragePage() {
  const { data, error, refetch } = useQuery(keepQuery);
  if (error && !data) return <Trouble error={error} onRetry={refetch} />;
  if (!data) return <Skeleton page="Storage" rows={3} height="h-40" />;
  return <Keep holdings={data} />;
}

function Keep({ holdings }: { holdings: Holding[] }) {
  const [params, setParams] = useSearchParams();
  const [open, setOpen] = useState<Open>(null);
  const chosen = holdings.find((holding) => holding.place.id === Number(params.get("place"))) ?? holdings[0];
  const close = () => {
    setOpen(null);
  };
  return (
    <>
      <PageHeading page="Storage" className="mb-3">
        {storageSentence(holdings)}
      </PageHeading>
      <div className="grid gap-6 lane:grid-cols-[14rem_1fr_20rem]">
        <div className="flex flex-col gap-4">
          {chosen && (
            <Choice
              label="Containers"
              value={chosen.place.id}
              options={holdings.map((holding) => ({
                value: holding.place.id,
                name: holding.place.name,
                note: `${PLACE_WORDS[holding.place.kind]}${holding.rh_pct === null ? "" : `, ${fixed(holding.rh_pct, 0)} % inside`}`,
              }))}
              onChoose={(id) => {
                setParams({ place: String(id) }, { replace: true });
              }}
            />
          )}
          <div className="flex flex-col items-start gap-2">
            <Button
              kind="quiet"
              onClick={() => {
                setOpen("place");
              }}
            >
              Add a place
            </Button>
            <Button
              kind="link"
              className="text-sm"
              onClick={() => {
                setOpen("air");
              }}
            >
              enter the room’s air
            </Button>
          </div>
        </div>
        {chosen && <Container holding={chosen} onOpen={setOpen} />}
      </div>
      {open === "place" && <PlaceSlip onClose={close} />}
      {open === "air" && <RoomAirSlip onClose={close} />}
      {chosen && open === "change" && <PlaceSlip place={chosen.place} onClose={close} />}
      {chosen && open === "fill" && <FillSlip place={chosen.place} onClose={close} />}
      {chosen?.desiccant && open === "pack" && <PackSlip holding={chosen} onClose={close} />}
    </>
  );
}

function Container({ holding, onOpen }: { holding: Holding; onOpen: (what: Open) => void }) {
  const now = new Date();
  const { place, contents } = holding;
  const inside =
    holding.rh_pct === null ? "" : `${fixed(holding.rh_pct, 0)} % relative humidity inside, computed`;
  return (
    <>
      <section aria-label={place.name} className={`${panel} min-w-0`}>
        <div className="flex items-baseline justify-between gap-3">
          <h2 className="text-lg">{place.name}</h2>
          <Button
            kind="link"
            className="text-sm"
            onClick={() => {
              onOpen("change");
            }}
          >
            edit
          </Button>
        </div>
        <p className="text-sm text-muted">{inside}; dashed: forecast, with the range of what may leak in</p>
        <HumidityChart holding={holding} now={now} label={`Humidity in ${place.name}: ${inside}`} />
        <SaveTable table={() => humidityTable(holding)} />
        <h3 className="mt-3 font-bold">Spools inside</h3>
        {contents.length === 0 ? (
          <p className="text-sm">Nothing. Move a spool here with M.</p>
        ) : (
          <table className="w-full text-sm">
            <thead>
              <tr className="text-left text-muted">
                <th className="font-normal">spool</th>
                <th className="text-right font-normal">water, %</th>
                <th className="text-right font-normal">clean for</th>
                <th className="text-right font-normal">shows no water for</th>
                <th className="text-right font-normal">desiccant dries it in</th>
              </tr>
            </thead>
            <tbody>
              {contents.map(({ lane, clean, trouble, dries_h }) => (
                <tr key={lane.spool.id} className="border-t border-line align-top">
                  <td className="py-1">
                    <Link to={`/spools/${lane.spool.id}`} className="font-bold">
                      {lane.spool.name}
                    </Link>
                  </td>
                  <td className="py-1 text-right num">{percent(lane.moisture.value)}</td>
                  <td className="py-1 text-right">
                    {lane.moisture_level === "clean" || lane.moisture_level === "no_matter" ? (
                      <Days crossing={clean} />
                    ) : (
                      "not clean now"
                    )}
                  </td>
                  <td className="py-1 text-right">
                    {lane.moisture_level === "trouble" ? "over it now" : <Days crossing={trouble} />}
                  </td>
                  <td className="py-1 text-right">
                    {lane.moisture_level === "clean" || lane.moisture_level === "no_matter"
                      ? "–"
                      : dries_h === null
                        ? "over 4 months"
                        : span(dries_h)}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
        <p className="mt-2 text-sm text-muted">
          “Desiccant dries it” assumes a kilogram of fresh desiccant at room temperature. In brackets: the
          range if more or less air leaks in than estimated.
        </p>
      </section>
      <Desiccant holding={holding} onOpen={onOpen} />
    </>
  );
}

function Days({ crossing }: { crossing: Holding["contents"][number]["clean"] }) {
  const { hours, early_h, late_h } = crossing;
  if (hours === null && early_h === null) return <>over 2 weeks</>;
  return (
    <>
      <span className="num font-bold">{span(hours)}</span>
      <span className="block text-muted">
        ({span(early_h)} to {span(late_h)})
      </span>
    </>
  );
}

function Desiccant({ holding, onOpen }: { holding: Holding; onOpen: (what: Open) => void }) {
  const { place, fitted } = holding;
  const logged = useQuery(loggedIngress(place.id)).data?.heard;
  return (
    <aside className="flex flex-col gap-3">
      <section>
        <h2>Desiccant</h2>
        <p className={holding.desiccant?.spent ? "font-bold" : ""}>{desiccantLine(holding)}</p>
        {holding.needed_g !== null && (
          <p className="text-sm">
            For 30 days it takes about {mass(Math.max(holding.needed_g, 1), 0)} of fresh {holding.needed_kind}
            .
          </p>
        )}
        <div className="my-2 flex flex-wrap gap-2">
          <Button
            kind="quiet"
            className="text-sm"
            onClick={() => {
              onOpen("fill");
            }}
          >
            {holding.desiccant ? "Put fresh in, or take it out" : "Put some in"}
          </Button>
          {holding.desiccant && (
            <Button
              kind="quiet"
              className="text-sm"
              onClick={() => {
                onOpen("pack");
              }}
            >
              Weigh it
            </Button>
          )}
        </div>
      </section>
      {holding.desiccant && (
        <section>
          <h2>To dry it again</h2>
          <ul className="list-disc pl-5 text-sm">
            {regenerationLines(holding).map((line) => (
              <li key={line}>{line}</li>
            ))}
          </ul>
        </section>
      )}
      <section>
        <h2>What leaks in</h2>
        <p className="text-sm">
          As {fixed(holding.ingress.value * 1000, 0)} l of room air a day. {ingressLine(holding)}
        </p>
        {fitted && <Fitted by="the weighings of its desiccant" ingress={fitted} place={place} />}
        {logged && <Fitted by={`${logged.device_name} in it`} ingress={logged} place={place} />}
      </section>
    </aside>
  );
}

interface FittedProps {
  by: string;
  ingress: Holding["ingress"];
  place: Holding["place"];
}

/** What leaks in by a measurement of one's own, and the act that takes it over. */
function Fitted({ by, ingress, place }: FittedProps) {
  const { notify } = useShell();
  const change = useChangePlace();
  const body = {
    name: place.name,
    kind: place.kind,
    air_l: place.air_l ?? null,
    warm_c: place.warm_c,
    ingress_m3_day: Number(ingress.value.toFixed(4)),
  };
  return (
    <p className="text-sm">
      By {by}: {fixed(ingress.value * 1000, 0)} ± {fixed(Math.max(2000 * ingress.uncertainty, 1), 0)} l a day.{" "}
      <Button
        kind="link"
        disabled={change.isPending}
        onClick={() => {
          change.mutate(
            { id: place.id, body },
            {
              onSuccess: ({ undo }) => {
                notify({ text: `${place.name} now uses its own measurement.`, undo });
              },
            },
          );
        }}
      >
        use this
      </Button>
    </p>
  );
}
