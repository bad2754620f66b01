import { Button, Dialog, DialogBackdrop, DialogPanel, DialogTitle } from "@headlessui/react";
import { useQuery } from "@tanstack/react-query";
import type { Lane } from "../../api/client";
import { liveMass } from "../equipment/queries";
import { scaleDecimals } from "../../domain/numbers";
import { length, mass, massAsRead, typedLength, typedMass } from "../../domain/quantities";
import { parseTyped } from "../../domain/typed";
import { lengthUnit, massUnit } from "../../domain/units";
import type { Intent } from "../../components/shell";
import { SpoolPicker } from "../spools/SpoolPicker";
import { Choice } from "../../components/Choice";
import { Field } from "../../components/Field";
import { Tick } from "../../components/Tick";
import { link, primary, quiet } from "../../components/classes";
import { useSlip } from "./useSlip";
import { Alert } from "../../components/Alert";

const TITLES = { keep: "Weigh", start: "Weigh in and start", end: "Weigh out and end" };
const KEEPS = { keep: "Save", start: "Save and start", end: "Save and end" };

interface Props {
  intent: Intent;
  /** Made once for this slip: however often Keep is pressed, it is one weigh-in. */
  clientKey: string;
  onClose: () => void;
}

type Slip = ReturnType<typeof useSlip>;

/** The weigh slip, over any room: reading, spool, scale; Enter keeps it. It closes when the weigh-in is stored. */
export function WeighSlip({ intent, clientKey, onClose }: Props) {
  const slip = useSlip(intent, clientKey, onClose);
  return (
    <Dialog open onClose={onClose} className="relative z-30">
      <DialogBackdrop className="fixed inset-0 bg-black/40" />
      <div className="fixed inset-0 flex items-end justify-center sm:items-center sm:p-4">
        <DialogPanel className="max-h-full w-full max-w-md overflow-auto border-2 border-ink bg-ground p-5">
          <DialogTitle as="h2" className="mb-2 text-xl">
            {TITLES[intent.kind]}
          </DialogTitle>
          <form
            noValidate
            className="flex flex-col gap-3"
            onSubmit={(event) => {
              event.preventDefault();
              void slip.submit();
            }}
          >
            <Field
              label="The scale reads"
              unit={massUnit()}
              large
              autoFocus
              inputMode="decimal"
              value={slip.typed}
              error={slip.errors.gross}
              hint={<Preview slip={slip} />}
              onText={slip.type}
            />
            <LiveMass slip={slip} />
            {intent.kind === "keep" ? (
              <SpoolPicker
                label="Spool"
                lanes={slip.lanes}
                lane={slip.lane}
                onPick={(id) => {
                  slip.choose({ spool: id });
                }}
              />
            ) : (
              <p className="text-lg font-bold">
                {slip.lane?.spool.name}
                {intent.kind === "start" && intent.plan.lanes.length > 1 && (
                  <span className="text-sm font-normal text-muted">
                    {" "}
                    {intent.member + 1} of {intent.plan.lanes.length}
                  </span>
                )}
              </p>
            )}
            <Choice
              label="On"
              across
              value={slip.scale?.id ?? 0}
              options={slip.scales.map((it) => ({
                value: it.id,
                name: it.name.replace(" scale", ""),
                note: massAsRead(it.resolution_g),
              }))}
              onChoose={(id) => {
                slip.choose({ scale: id });
              }}
            />
            <Details slip={slip} />
            {slip.errors.other && <Alert>{slip.errors.other}</Alert>}
            <div className="flex gap-2">
              <Button type="submit" className={`${primary} grow justify-center`} aria-disabled={slip.busy}>
                {slip.busy ? "Saving …" : KEEPS[intent.kind]} <kbd>Enter</kbd>
              </Button>
              <Button className={quiet} onClick={onClose}>
                Cancel
              </Button>
            </div>
          </form>
        </DialogPanel>
      </div>
    </Dialog>
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
        className={`${quiet} text-sm`}
        disabled={!heard.steady}
        onClick={() => {
          slip.type(shown.split(" ")[0] ?? "");
        }}
      >
        Take it
      </Button>
    </p>
  );
}

function Details({ slip }: { slip: Slip }) {
  if (slip.at === null) {
    return (
      <Button className={`${link} self-start text-sm`} onClick={slip.openDetails}>
        more: a coil, still warm, surface wet, another time, a note
      </Button>
    );
  }
  return (
    <>
      <OnTheScale slip={slip} />
      <Field
        label="Weighed at, by this device's clock"
        type="datetime-local"
        value={slip.at}
        error={slip.errors.at}
        onText={slip.setAt}
      />
      <Field
        label="Note: clip, bag, pouch on it"
        value={slip.said.note}
        maxLength={200}
        onText={(note) => {
          slip.say({ note });
        }}
      />
    </>
  );
}

/** The spool or a coil cut off it, and what makes a reading less sure. */
function OnTheScale({ slip }: { slip: Slip }) {
  const { said, say } = slip;
  return (
    <>
      <Choice
        label="What hangs on it"
        across
        value={said.weighed_object}
        options={[
          { value: "spool", name: "the spool" },
          { value: "coil", name: "a coil cut off it" },
        ]}
        onChoose={(weighed_object) => {
          say({ weighed_object });
        }}
      />
      {said.weighed_object === "coil" && (
        <Field
          label="Its length, if you measured it"
          unit={lengthUnit()}
          inputMode="decimal"
          value={said.length}
          error={slip.errors.length}
          hint={slip.lane && coilWords(said.length, slip.lane)}
          onText={(length) => {
            say({ length });
          }}
        />
      )}
      <Tick
        label="still warm: rising air makes it read light"
        checked={said.warm}
        onTick={(warm) => {
          say({ warm });
        }}
      />
      <Tick
        label="wet on the surface: better wipe it, let it air-dry, weigh again"
        checked={said.surface_wet}
        onTick={(surface_wet) => {
          say({ surface_wet });
        }}
      />
    </>
  );
}

function coilWords(typed: string, lane: Lane): string {
  const metres = parseTyped(typedLength(typed));
  if (metres === null)
    return "5 to 10 m make a good coil; a scale to 0.01 g then tells water to a few hundredths.";
  return `${length(metres)} weighs about ${mass(metres * lane.filament_g_per_m, 1)}.`;
}

/** What the reading would mean, while it is typed. */
function Preview({ slip }: { slip: Slip }) {
  const { lane, scale, typed } = slip;
  const gross = parseTyped(typedMass(typed));
  if (!lane || !scale) return "finding the spool …";
  const digits = scaleDecimals(scale.resolution_g);
  if (slip.said.weighed_object === "coil") {
    return gross === null
      ? "the coil alone, without clip or bag"
      : `about ${length(gross / lane.filament_g_per_m)} of filament`;
  }
  const tare = `tare ${mass(lane.spool.tare_g, 1)}, ${lane.spool.tare_method}`;
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
