import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { Lane } from "../../api/client";
import { liveMass } from "../equipment/queries";
import { AddScale } from "../equipment/Scales";
import { scaleDecimals } from "../../domain/numbers";
import { length, mass, massAsRead, typedLength } from "../../domain/quantities";
import { parseTyped } from "../../domain/typed";
import { Button } from "../../components/Button";
import type { Intent } from "../../components/shell";
import { coils as coilsQuery } from "../spools/queries";
import { SpoolPicker } from "../spools/SpoolPicker";
import { tareWords } from "../spools/words";
import { Choice } from "../../components/Choice";
import { useSlip } from "./useSlip";
import { Afterwards } from "../../components/Afterwards";
import { Alert } from "../../components/Alert";
import { ModalTitle } from "../../components/Modal";
import { OverPage } from "../../components/OverPage";
import { ChoiceField, MomentField, NumberField, PickField, TextField, TickField } from "../../forms/fields";

const TITLES = { keep: "Weigh", start: "Weigh in and start", end: "Weigh out and end" };
const KEEPS = { keep: "Save", start: "Save and start", end: "Save and end" };

interface Props {
  intent: Intent;
  /** Made once for this slip: however often Keep is pressed, it is one weigh-in. */
  clientKey: string;
  onClose: () => void;
}

type Slip = ReturnType<typeof useSlip>;

/** The weigh slip, over any page: reading, spool, scale; Enter keeps it. It closes when the weigh-in is stored. */
export function WeighSlip({ intent, clientKey, onClose }: Props) {
  const slip = useSlip(intent, clientKey, onClose);
  const [adding, setAdding] = useState(false);
  return (
    <OverPage onClose={onClose}>
      <ModalTitle className="mb-2 text-xl">{TITLES[intent.kind]}</ModalTitle>
      <form
        noValidate
        className="flex flex-col gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          if (!slip.busy) slip.submit();
        }}
      >
        {intent.kind !== "keep" && <p className="text-lg font-bold">{slip.lane?.spool.name}</p>}
        <NumberField
          control={slip.control}
          name="gross_g"
          label="The scale reads"
          measure="mass"
          large
          autoFocus
          hint={<Preview slip={slip} />}
        />
        {slip.asked && <WhatHappened slip={slip} />}
        <Afterwards space="h-48 max-sm:h-53">
          <OfWhat
            intent={intent}
            slip={slip}
            onAddScale={() => {
              setAdding(true);
            }}
          />
        </Afterwards>
        {slip.problem !== undefined && <Alert>{slip.problem}</Alert>}
        <div className="flex gap-2">
          <Button type="submit" kind="primary" className="grow justify-center" aria-disabled={slip.busy}>
            {slip.busy ? "Saving …" : KEEPS[intent.kind]} <kbd>Enter</kbd>
          </Button>
          <Button kind="quiet" onClick={onClose}>
            Cancel
          </Button>
        </div>
      </form>
      {adding && (
        <AddScale
          first
          onClose={() => {
            setAdding(false);
          }}
        />
      )}
    </OverPage>
  );
}

interface OfWhatProps {
  intent: Intent;
  slip: Slip;
  onAddScale: () => void;
}

/** Which spool it is and what else was weighed, by which scale, and when. */
function OfWhat({ intent, slip, onAddScale }: OfWhatProps) {
  return (
    <>
      <LiveMass slip={slip} />
      {intent.kind === "keep" && (
        <SpoolPicker
          label="Spool"
          lanes={slip.lanes}
          lane={slip.lane}
          onPick={(id) => {
            slip.choose({ spool: id });
          }}
        />
      )}
      {slip.beside.map((lane, n) => (
        <NumberField
          key={lane.spool.id}
          control={slip.control}
          name={`others.${n}`}
          label={`And for ${lane.spool.name}, or nothing if you do not weigh it`}
          measure="mass"
        />
      ))}
      {slip.scaleless ? (
        <p>
          You have no scale here yet.{" "}
          <Button kind="link" onClick={onAddScale}>
            add the one you use
          </Button>
        </p>
      ) : (
        <Choice
          label="On"
          across
          value={slip.scale?.id ?? 0}
          options={slip.scales.map((scale) => ({
            value: scale.id,
            name: scale.name.replace(" scale", ""),
            note: massAsRead(scale.resolution_g),
          }))}
          onChoose={(id) => {
            slip.choose({ scale: id });
          }}
        />
      )}
      <Details slip={slip} />
    </>
  );
}

/** What else it can be than water: the question is asked before the reading is saved. */
function WhatHappened({ slip }: { slip: Slip }) {
  const other = slip.fits.find((lane) => lane.spool.id !== slip.lane?.spool.id);
  return (
    <div role="group" aria-label="What happened" className="flex flex-col gap-2 border-l-4 border-heat pl-2">
      {!slip.isCoil && (
        <NumberField
          control={slip.control}
          name="printed_g"
          label="Printed from it since"
          measure="mass"
          hint="grams, as the print file or your notes say"
        />
      )}
      <div className="flex flex-wrap gap-2">
        {other && (
          <Button
            kind="quiet"
            className="text-sm"
            onClick={() => {
              slip.choose({ spool: other.spool.id });
            }}
          >
            It was {other.spool.name}
          </Button>
        )}
        <Button kind="quiet" className="text-sm" disabled={slip.busy} onClick={slip.submitDoubtful}>
          Save it as doubtful
        </Button>
      </div>
      <p className="text-sm text-muted">
        A doubtful weighing stays in the record and counts for nothing. You can mend it later.
      </p>
    </div>
  );
}

/** What the scale shows by itself, to be taken over once it rests. */
function LiveMass({ slip }: { slip: Slip }) {
  const heard = useQuery(liveMass(slip.scale?.id ?? 0)).data?.heard;
  if (!heard || !slip.scale) return null;
  const shown = mass(heard.mass_g, scaleDecimals(slip.scale.resolution_g));
  return (
    <p className="flex items-center justify-between gap-3 border-l-4 border-line pl-2">
      <span>
        On the scale now <strong className="num">{shown}</strong>
        <span className="block text-sm text-muted">{heard.steady ? "at rest" : "still moving"}</span>
      </span>
      <Button
        kind="quiet"
        className="text-sm"
        disabled={!heard.steady}
        onClick={() => {
          slip.take(shown.split(" ")[0] ?? "");
        }}
      >
        Take it
      </Button>
    </p>
  );
}

function Details({ slip }: { slip: Slip }) {
  if (!slip.details) {
    return (
      <Button kind="link" className="self-start text-sm" onClick={slip.openDetails}>
        more: a coil, still warm, surface wet, another time, a note
      </Button>
    );
  }
  return (
    <>
      <OnTheScale slip={slip} />
      <MomentField control={slip.control} name="at" label="Weighed at" />
      <TextField control={slip.control} name="note" label="Note: clip, bag, pouch on it" maxLength={200} />
    </>
  );
}

/** The spool or a coil cut off it, and what makes a reading less sure. */
function OnTheScale({ slip }: { slip: Slip }) {
  const { control } = slip;
  return (
    <>
      <ChoiceField
        control={control}
        name="weighed_object"
        label="What is on the scale"
        across
        options={[
          { value: "spool", name: "the spool" },
          { value: "coil", name: "a coil cut off it" },
        ]}
      />
      {slip.asksCoil && slip.lane && <WhichCoil slip={slip} spool={slip.lane.spool.id} />}
      {slip.isCoil && (
        <NumberField
          control={control}
          name="length_m"
          label="Its length, if you measured it"
          measure="length"
          hint={slip.lane && coilWords(slip.length, slip.lane)}
        />
      )}
      <TickField control={control} name="warm" label="still warm: rising air makes it read light" />
      <TickField
        control={control}
        name="surface_wet"
        label="wet on the surface: better wipe it, let it air-dry, weigh again"
      />
    </>
  );
}

/** Which of the spool's coils it was. */
function WhichCoil({ slip, spool }: { slip: Slip; spool: number }) {
  const { data: coils = [] } = useQuery(coilsQuery(spool));
  const left = coils.filter((coil) => !coil.used_up_at);
  if (left.length === 0) return null;
  const drying = left.some((coil) => coil.run !== null);
  return (
    <PickField
      control={slip.control}
      name="coil"
      label="Which coil"
      options={[
        { value: 0, name: drying ? "the one that dries, or a new one" : "a new one" },
        ...left.map((coil) => ({ value: coil.id, name: coil.name })),
      ]}
    />
  );
}

function coilWords(typed: string, lane: Lane): string {
  const metres = parseTyped(typedLength(typed));
  if (metres === null)
    return "5 to 10 m make a good coil; a scale to 0.01 g then tells water to a few hundredths.";
  return `${length(metres)} weighs about ${mass(metres * lane.filament_g_per_m, 1)}.`;
}

/** Several spools weigh about that much, or none does. */
function WhichSpool({ slip }: { slip: Slip }) {
  if (slip.lanes.length === 0) return "finding the spools …";
  if (slip.gross === null) return "the spool whose mass fits is chosen for you";
  if (slip.fits.length === 0) return "no spool weighed about that: choose it below";
  return `fits ${slip.fits.map((lane) => lane.spool.name).join(" and ")}: choose it below`;
}

/** What the reading would mean, while it is typed. */
function Preview({ slip }: { slip: Slip }) {
  const { lane, scale } = slip;
  const { gross } = slip;
  if (!lane) return <WhichSpool slip={slip} />;
  const digits = scale ? scaleDecimals(scale.resolution_g) : 0;
  if (slip.isCoil) {
    return gross === null
      ? "the coil alone, without clip or bag"
      : `about ${length(gross / lane.filament_g_per_m)} of filament`;
  }
  const tare = `tare ${tareWords(lane.spool)}`;
  if (gross === null || gross < lane.spool.tare_g) return tare;
  const net = gross - lane.spool.tare_g;
  const change = lane.net_g === null ? null : net - lane.net_g;
  return (
    <>
      {mass(net, digits)} of filament ({tare})
      {change !== null && `; ${change > 0 ? "+" : ""}${mass(change, digits)} since the last weighing`}
    </>
  );
}
