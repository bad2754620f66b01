import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useSearchParams } from "react-router";
import type { Lane, Scale } from "../../api/client";
import { Alert } from "../../components/Alert";
import { Button } from "../../components/Button";
import { Field } from "../../components/Field";
import { PageHeading } from "../../components/PageHeading";
import { Picker } from "../../components/Picker";
import { Tick } from "../../components/Tick";
import { panel } from "../../components/classes";
import { hours, percent } from "../../domain/numbers";
import { bareTemp, length, mass, temp, typedMass, typedTemp } from "../../domain/quantities";
import { numbersIn, parseTyped } from "../../domain/typed";
import { massUnit, tempUnit } from "../../domain/units";
import { scales as scalesQuery } from "../equipment/queries";
import { scaleOptions } from "../equipment/words";
import { lanes as lanesQuery } from "../rack/queries";
import { SpoolPicker } from "../spools/SpoolPicker";
import { useBeginTrial } from "./acts";
import { useBegun } from "./useBegun";
import { design, type DesignQuery } from "./queries";
import { type Design, designSentence, factorWords, finerScale, QUESTIONS } from "./words";
import { LadderForm } from "./LadderForm";
import { SpongeForm } from "./SpongeForm";
import { SwellingForm } from "./SwellingForm";

type Kind = keyof typeof QUESTIONS;
type CoilKind = Exclude<Kind, "sponge" | "ladder" | "swelling">;
const isKind = (text: string | null): text is Kind => text !== null && text in QUESTIONS;

/** Begins a trial: what is to be asked, what it will tell, and the masses to begin with. */
export function NewTrialPage() {
  const [params] = useSearchParams();
  const asked = params.get("kind");
  const kind: Kind = isKind(asked) ? asked : "drying";
  const given = (name: string) => Number(params.get(name)) || undefined;
  const told = { spool: given("spool"), temp_c: given("temp_c"), length_m: given("length_m") };
  return (
    <>
      <PageHeading page="New trial">{QUESTIONS[kind].question}</PageHeading>
      <p className="mb-4">{QUESTIONS[kind].how}</p>
      {kind === "sponge" ? (
        <SpongeForm />
      ) : kind === "ladder" ? (
        <LadderForm asked={told.spool} />
      ) : kind === "swelling" ? (
        <SwellingForm asked={told.spool} />
      ) : (
        <CoilForm key={kind} kind={kind} {...told} />
      )}
    </>
  );
}

const USUAL_C = { drying: 65, uptake: 23, twin: 65 };
const USUAL_COILS = 8;
const COIL_M = 8;

interface CoilProps {
  kind: CoilKind;
  /** What a plan that offers the coil has said already. */
  spool: number | undefined;
  temp_c: number | undefined;
  length_m: number | undefined;
}

function CoilForm({ kind, spool, temp_c, length_m }: CoilProps) {
  const lanes = useQuery(lanesQuery).data ?? [];
  const scales = useQuery(scalesQuery).data ?? [];
  const [given, setGiven] = useState<Given>(() => ({
    spool,
    scale: undefined,
    at: bareTemp(temp_c ?? USUAL_C[kind]),
    rh: "",
    soaked: kind === "drying",
    masses: "",
    baked: "",
  }));
  const finest = [...scales].sort((a, b) => a.resolution_g - b.resolution_g)[0];
  const scale = given.scale ?? finest?.id;
  const lane = lanes.find((one) => one.spool.id === given.spool);
  const query = designQuery(kind, given, scale);
  const found = useQuery(design(query));
  const begin = useBegin(kind, { ...given, scale });
  return (
    <div className="grid gap-6 lane:grid-cols-[26rem_1fr]">
      <form
        noValidate
        className={`${panel} flex flex-col gap-3`}
        onSubmit={(event) => {
          event.preventDefault();
          begin.submit(found.data?.times_h ?? []);
        }}
      >
        <CoilFields
          kind={kind}
          given={given}
          lanes={lanes}
          lane={lane}
          scales={scales}
          scale={scale ?? 0}
          onChange={(part) => {
            setGiven({ ...given, ...part });
          }}
        />
        {begin.problem !== undefined && <Alert>{begin.problem}</Alert>}
        <Button kind="primary" type="submit" disabled={begin.busy} className="self-start">
          Begin
        </Button>
        <p className="border-l-4 border-heat pl-2 text-sm">
          Never in an oven that is used for food, and not with a gas flame. Let hot coils cool in a closed
          jar.
        </p>
      </form>
      {kind === "twin" ? (
        <TwinHelp meters={length_m ?? COIL_M} />
      ) : (
        <Designed query={query} found={found} scale={scale ?? 0} lane={lane} />
      )}
    </div>
  );
}

/** What the design is asked for; null while something is missing. */
function designQuery(kind: CoilKind, given: Given, scale: number | undefined): DesignQuery | null {
  if (kind === "twin" || given.spool === undefined || scale === undefined || parseTyped(given.at) === null)
    return null;
  return {
    kind,
    spool: given.spool,
    scale,
    temp_c: typedTemp(given.at),
    soaked: given.soaked,
    coils: Math.min(Math.max(numbersIn(given.masses).length || USUAL_COILS, 2), 60),
    coil_m: String(COIL_M),
    ...(parseTyped(given.rh) === null ? {} : { rh_pct: given.rh }),
  };
}

interface FieldsProps {
  kind: CoilKind;
  given: Given;
  lanes: Lane[];
  lane: Lane | undefined;
  scales: Scale[];
  scale: number;
  onChange: (part: Partial<Given>) => void;
}

function CoilFields({ kind, given, lanes, lane, scales, scale, onChange }: FieldsProps) {
  return (
    <>
      <SpoolPicker
        label="Coils are cut from"
        lanes={lanes}
        lane={lane}
        onPick={(spool) => {
          onChange({ spool });
        }}
      />
      <Picker
        label="Weighed on"
        value={scale}
        options={scaleOptions(scales)}
        onChoose={(chosen) => {
          onChange({ scale: chosen });
        }}
      />
      <Field
        label={kind === "uptake" ? "Temperature of the water or the air" : "Temperature of the air"}
        unit={tempUnit()}
        inputMode="decimal"
        value={given.at}
        onText={(at) => {
          onChange({ at });
        }}
      />
      {kind === "uptake" && (
        <Field
          label="Humidity of the air"
          unit="%"
          inputMode="decimal"
          value={given.rh}
          hint="Empty: they lie in water."
          onText={(rh) => {
            onChange({ rh });
          }}
        />
      )}
      {kind === "drying" && (
        <div>
          <Tick
            label="They were soaked"
            checked={given.soaked}
            onTick={(soaked) => {
              onChange({ soaked });
            }}
          />
          <p className="mt-1 text-sm text-muted">
            Then a film of water hangs on them, which is reckoned with.
          </p>
        </div>
      )}
      <MassFields kind={kind} given={given} onChange={onChange} />
    </>
  );
}

function MassFields({ kind, given, onChange }: Pick<FieldsProps, "kind" | "given" | "onChange">) {
  const single = kind === "twin";
  return (
    <>
      <Field
        label={single ? "Mass of the coil" : "Masses of the coils, in order"}
        unit={massUnit()}
        inputMode="decimal"
        value={given.masses}
        hint={
          single
            ? "As it is cut, wiped, at the room’s temperature."
            : "With spaces between: 24.31 23.88 25.02"
        }
        onText={(masses) => {
          onChange({ masses });
        }}
      />
      {!single && (
        <Field
          label="Mass of one more, to be baked dry"
          unit={massUnit()}
          inputMode="decimal"
          value={given.baked}
          hint="It tells what was in the others before. May be left out."
          onText={(baked) => {
            onChange({ baked });
          }}
        />
      )}
    </>
  );
}

interface Given {
  spool: number | undefined;
  scale: number | undefined;
  at: string;
  rh: string;
  soaked: boolean;
  masses: string;
  baked: string;
}

const NOTHING_ELSE = { name: "", baked: false, desiccant: false };

/** What is missing before a trial can begin; empty where nothing is. */
function missing(kind: CoilKind, given: Given): string {
  if (given.spool === undefined || given.scale === undefined)
    return "Needed: the spool that the coils are cut from.";
  if (numbersIn(given.masses).length > 0) return "";
  return kind === "twin"
    ? "Needed: the mass of the coil."
    : "Needed: the masses of the coils, for example 24.31 23.88.";
}

/** Sends what was typed; what is missing is said by name. */
function useBegin(kind: CoilKind, given: Given) {
  const begin = useBeginTrial();
  const { problem, setProblem, after } = useBegun("The trial has begun.");
  const submit = (times: readonly number[]) => {
    const lacks = missing(kind, given);
    setProblem(lacks === "" ? undefined : lacks);
    if (lacks !== "" || given.spool === undefined || given.scale === undefined) return;
    begin.mutate(
      {
        kind,
        spool: given.spool,
        scale: given.scale,
        temp_c: typedTemp(given.at),
        soaked: kind === "drying" && given.soaked,
        note: "",
        ...(given.rh === "" ? {} : { rh_pct: given.rh }),
        samples: [
          ...numbersIn(given.masses).map((text, n) => ({
            ...NOTHING_ELSE,
            start_g: typedMass(text),
            planned_h: times[n] ?? null,
          })),
          ...(given.baked === "" ? [] : [{ ...NOTHING_ELSE, start_g: typedMass(given.baked), baked: true }]),
        ],
      },
      after,
    );
  };
  return { submit, problem, busy: begin.isPending };
}

function TwinHelp({ meters }: { meters: number }) {
  return (
    <section className={`${panel} max-w-prose`}>
      <h2 className="mb-1">Why one coil helps so much</h2>
      <p>
        What a spool held at the start is what a run’s end hangs on most. One coil, cut from it now and dried
        until its mass stops moving, tells it to a few hundredths of a per cent. Then use it for the spool:
        its plan is surer at once.
      </p>
      <p className="mt-2 text-sm text-muted">
        Cut {length(meters)} or more, from inside the first turns. Weigh it on the finest scale that takes it.
      </p>
    </section>
  );
}

interface DesignedProps {
  query: DesignQuery | null;
  found: { data: Design | undefined; error: Error | null; isPlaceholderData: boolean };
  scale: number;
  lane: Lane | undefined;
}

/** What the lot will tell, when to take each coil out, and what would make it surer. */
function Designed({ query, found, scale, lane }: DesignedProps) {
  if (!query || !lane)
    return (
      <p className={`${panel} self-start`}>Choose a spool: then it stands here when to take each coil out.</p>
    );
  if (found.error) return <p className={`${panel} self-start font-bold`}>{found.error.message}</p>;
  const { data } = found;
  if (!data) return <p className={`${panel} self-start text-muted`}>Working it out …</p>;
  const finer = finerScale(data, scale);
  return (
    <section aria-busy={found.isPlaceholderData} className={`${panel} self-start`}>
      <h2 className="mb-1">{designSentence(data)}</h2>
      <p className="text-sm">
        {finer || `With twice as many it would be ${factorWords(data.more_coils_factor)}.`} A coil of{" "}
        {length(COIL_M)} weighs about {mass(data.coil_g, 1)}; {percent(data.change_pct)} % of its mass{" "}
        {query.kind === "uptake" ? "will be taken up" : "will go"}, known to ± {percent(data.change_pm_pct)}{" "}
        %.
      </p>
      <table className="mt-3 text-sm">
        <thead>
          <tr className="text-left text-muted">
            <th className="pr-6 font-normal">coil</th>
            <th className="font-normal">take it out after</th>
          </tr>
        </thead>
        <tbody>
          {data.times_h.map((time, n) => (
            <tr key={n} className="border-t border-line">
              <td className="py-1 pr-6 font-bold">{`${lane.spool.name.charAt(0).toUpperCase()}${n + 1}`}</td>
              <td className="py-1 num">{hours(time)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="mt-2 text-sm text-muted">
        Times that tell most at {temp(Number(query.temp_c))}, each its own so that it shows whether the curve
        is right.
      </p>
    </section>
  );
}
