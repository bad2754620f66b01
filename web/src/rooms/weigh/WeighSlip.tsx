import { Button, Dialog, DialogBackdrop, DialogPanel, DialogTitle } from "@headlessui/react";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { Lane, Scale } from "../../api/client";
import { lanes as lanesQuery, scales as scalesQuery } from "../../api/queries";
import { fixed, scaleDecimals } from "../../format/numbers";
import { fromLocalField, toLocalField } from "../../format/times";
import { parseTyped } from "../../format/typed";
import type { Intent } from "../../shell/shell";
import { Choice } from "../../ui/Choice";
import { Field } from "../../ui/Field";
import { Skeleton } from "../../ui/Skeleton";
import { Trouble } from "../../ui/Trouble";
import { field, link, primary, quiet } from "../../ui/classes";
import { useKeep } from "./useKeep";

const LAST_SCALE = "darre.scale";
const TITLES = { keep: "Weigh", start: "Weigh in and start", end: "Weigh out and end" };
const KEEPS = { keep: "Keep", start: "Keep and start", end: "Keep and end" };

interface Props {
  intent: Intent;
  /** Made once for this slip: however often Keep is pressed, it is one weigh-in. */
  clientKey: string;
  onClose: () => void;
}

/** The weigh slip, over any room: reading, spool, scale; Enter keeps it. It closes when the weigh-in is stored. */
export function WeighSlip({ intent, clientKey, onClose }: Props) {
  const lanes = useQuery(lanesQuery);
  const scales = useQuery(scalesQuery);
  const error = lanes.error ?? scales.error;
  return (
    <Dialog open onClose={onClose} className="relative z-30">
      <DialogBackdrop className="fixed inset-0 bg-black/40" />
      <div className="fixed inset-0 flex items-end justify-center sm:items-center sm:p-4">
        <DialogPanel className="max-h-full w-full max-w-md overflow-auto border-2 border-ink bg-ground p-5">
          <DialogTitle as="h2" className="mb-2 text-xl">
            {TITLES[intent.kind]}
          </DialogTitle>
          {error && (
            <Trouble error={error} onRetry={() => Promise.all([lanes.refetch(), scales.refetch()])} />
          )}
          {lanes.data && scales.data ? (
            <Slip
              intent={intent}
              clientKey={clientKey}
              lanes={lanes.data}
              scales={scales.data}
              onClose={onClose}
            />
          ) : (
            <Skeleton rows={3} height="h-14" />
          )}
        </DialogPanel>
      </div>
    </Dialog>
  );
}

/** The spool that a weigh-in is most likely for: as asked, else what is drying, else the first lane. */
function guess(intent: Intent, lanes: Lane[]): Lane | undefined {
  const asked =
    intent.kind === "start"
      ? intent.plan.lane.spool.id
      : intent.kind === "end"
        ? intent.run.spool.id
        : intent.spool;
  return lanes.find((it) => it.spool.id === asked) ?? lanes.find((it) => it.run) ?? lanes[0];
}

/** The scale used last; else the finest that carries the spool. */
function likelyScale(scales: Scale[], lane: Lane | undefined): Scale | undefined {
  const last = Number(localStorage.getItem(LAST_SCALE));
  const gross = lane ? lane.spool.tare_g + (lane.net_g ?? 1000) : 0;
  return scales.find((it) => it.id === last && it.max_g >= gross) ?? scales.find((it) => it.max_g >= gross);
}

interface SlipProps extends Props {
  lanes: Lane[];
  scales: Scale[];
}

function Slip({ intent, clientKey, lanes, scales, onClose }: SlipProps) {
  const [lane, setLane] = useState(() => guess(intent, lanes));
  const [scale, setScale] = useState(() => likelyScale(scales, lane));
  const [typed, setTyped] = useState("");
  const [complaint, setComplaint] = useState<string>();
  const [at, setAt] = useState<string | null>(null);
  const [note, setNote] = useState("");
  const keep = useKeep(intent, onClose);

  const gross = parseTyped(typed);
  const errorAt = (name: string) => (keep.error?.field === name ? keep.error.message : undefined);

  function submit() {
    if (keep.busy) return;
    if (gross === null) {
      setComplaint(
        typed.trim() === ""
          ? "Type what the scale reads."
          : `“${typed}” is not a number. Give grams, such as 858.4.`,
      );
      return;
    }
    if (!lane || !scale) return;
    localStorage.setItem(LAST_SCALE, String(scale.id));
    keep.submit({
      lane,
      reading: { scale: scale.id, gross_g: typed.trim(), client_key: clientKey, note },
      at: at === null ? null : fromLocalField(at),
    });
  }

  return (
    <form
      noValidate
      className="flex flex-col gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        submit();
      }}
    >
      <Field
        label="The scale reads"
        unit="g"
        large
        autoFocus
        inputMode="decimal"
        value={typed}
        error={complaint ?? errorAt("gross_g")}
        hint={<Preview lane={lane} scale={scale} gross={gross} />}
        onText={(text) => {
          setTyped(text);
          setComplaint(undefined);
          keep.forget();
        }}
      />
      {intent.kind === "keep" ? (
        <label className="text-sm text-muted">
          Spool
          <select
            className={`${field} text-base font-bold`}
            value={lane?.spool.id}
            onChange={(event) => {
              setLane(lanes.find((it) => it.spool.id === Number(event.target.value)));
            }}
          >
            {lanes.map((it) => (
              <option key={it.spool.id} value={it.spool.id}>
                {it.spool.name} · {it.spool.material_short}
                {it.run ? " · drying" : ""}
              </option>
            ))}
          </select>
        </label>
      ) : (
        <p className="text-lg font-bold">{lane?.spool.name}</p>
      )}
      <Choice
        label="On"
        value={scale?.id ?? 0}
        options={scales.map((it) => ({
          value: it.id,
          name: it.name.replace(" scale", ""),
          note: `${it.resolution_g} g`,
        }))}
        across
        onChoose={(id) => {
          setScale(scales.find((it) => it.id === id));
          keep.forget();
        }}
      />
      {at === null ? (
        <Button
          className={`${link} self-start text-sm`}
          onClick={() => {
            setAt(toLocalField(new Date()));
          }}
        >
          weighed just now; change the time or add a note
        </Button>
      ) : (
        <>
          <Field
            label="Weighed at, by this device's clock"
            type="datetime-local"
            value={at}
            error={errorAt("at")}
            onText={setAt}
          />
          <Field label="Note: what hangs on the scale" value={note} maxLength={200} onText={setNote} />
        </>
      )}
      {keep.error && !["gross_g", "at"].includes(keep.error.field ?? "") && (
        <p role="alert" className="font-bold text-heat">
          {keep.error.message}
        </p>
      )}
      <div className="flex gap-2">
        <Button type="submit" className={`${primary} grow justify-center`} aria-disabled={keep.busy}>
          {keep.busy ? "Keeping …" : KEEPS[intent.kind]} <kbd>Enter</kbd>
        </Button>
        <Button className={quiet} onClick={onClose}>
          Leave
        </Button>
      </div>
    </form>
  );
}

/** What the reading would mean, while it is typed. */
function Preview({
  lane,
  scale,
  gross,
}: {
  lane: Lane | undefined;
  scale: Scale | undefined;
  gross: number | null;
}) {
  if (!lane || !scale) return null;
  const digits = scaleDecimals(scale.resolution_g);
  const tare = `tare ${fixed(lane.spool.tare_g, 1)} g, ${lane.spool.tare_method}`;
  if (gross === null || gross < lane.spool.tare_g) return tare;
  const net = gross - lane.spool.tare_g;
  const change = lane.net_g === null ? null : net - lane.net_g;
  return (
    <>
      {fixed(net, digits)} g of strand ({tare})
      {change !== null && `; ${change > 0 ? "+" : ""}${fixed(change, digits)} g since the last weighing`}
    </>
  );
}
