import { area, line } from "d3-shape";
import { scaleLinear } from "d3-scale";
import { type Dryer } from "../../api/client";
import { useAddProbe, useRemoveProbe } from "./acts";
import { bareTemp, temp } from "../../domain/quantities";
import { toTemp } from "../../domain/units";
import { Button } from "../../components/Button";
import { useShell } from "../../components/shell";
import { RemoveButton } from "../../components/RemoveButton";
import { Alert } from "../../components/Alert";
import { NumberField } from "../../forms/fields";
import { maybeQuantity, quantity } from "../../forms/shape";
import { useActForm } from "../../forms/useActForm";
import * as z from "zod";

const WIDTH = 300;
const HEIGHT = 230;
const PAD = { left: 34, right: 8, top: 8, bottom: 22 };

/** Set against measured: probe pairs, the line through them, and how sure it is. */
export function CalibrationPanel({ dryer }: { dryer: Dryer }) {
  const { calibration } = dryer;
  return (
    <section aria-label="Set against measured" className="min-w-0">
      <h2>Set against measured</h2>
      <p className="mb-2 text-sm text-muted">
        {calibration.kind === "bed"
          ? "Hang a probe beside the spool, let the box come to rest, and note bed, air and room."
          : "Hang a probe beside the spool, let the box come to rest, and note what you set and what it shows."}
      </p>
      {calibration.kind === "line" && <DialChart dryer={dryer} />}
      <Pairs dryer={dryer} />
      {calibration.kind !== "levels" && <PairForm dryer={dryer} />}
    </section>
  );
}

function DialChart({ dryer }: { dryer: Dryer }) {
  const { points } = dryer.calibration;
  const sets = [...points.map((p) => p.set_c), ...dryer.probes.map((p) => p.set_c)];
  const airs = [...points.map((p) => p.air_c), ...dryer.probes.map((p) => p.air_c), ...sets];
  const x = scaleLinear([Math.min(...sets), Math.max(...sets)], [PAD.left, WIDTH - PAD.right]);
  const y = scaleLinear([Math.min(...airs), Math.max(...airs)], [HEIGHT - PAD.bottom, PAD.top]);
  const band = area<(typeof points)[number]>()
    .x((p) => x(p.set_c))
    .y0((p) => y(p.air_c - p.plus_minus_c))
    .y1((p) => y(p.air_c + p.plus_minus_c));
  const through = line<(typeof points)[number]>()
    .x((p) => x(p.set_c))
    .y((p) => y(p.air_c));
  const [low = 0, high = 100] = x.domain();
  return (
    <svg
      width={WIDTH}
      height={HEIGHT}
      role="img"
      aria-label={`Air at the spool against the setting, ${dryer.calibration.pairs} probe pairs`}
      className="max-w-full bg-paper"
    >
      <path d={band(points) ?? ""} className="fill-band" />
      <line
        x1={x(low)}
        y1={y(low)}
        x2={x(high)}
        y2={y(high)}
        className="stroke-muted"
        strokeDasharray="2 4"
      />
      <text x={x(high) - 34} y={y(high) + 12} textAnchor="end" className="fill-muted text-xs">
        if the display were right
      </text>
      <path d={through(points) ?? ""} fill="none" className="stroke-ink" strokeWidth="2" />
      {dryer.probes.map((probe) => (
        <circle
          key={probe.id}
          cx={x(probe.set_c)}
          cy={y(probe.air_c)}
          r="5"
          className="fill-paper stroke-ink"
          strokeWidth="2"
        />
      ))}
      {x.ticks(4).map((value) => (
        <text key={value} x={x(value)} y={HEIGHT - 6} textAnchor="middle" className="fill-muted num text-xs">
          {Math.round(toTemp(value))}
        </text>
      ))}
      {y.ticks(4).map((value) => (
        <text
          key={value}
          x={PAD.left - 6}
          y={y(value) + 4}
          textAnchor="end"
          className="fill-muted num text-xs"
        >
          {Math.round(toTemp(value))}
        </text>
      ))}
    </svg>
  );
}

function Pairs({ dryer }: { dryer: Dryer }) {
  const remove = useRemoveProbe();
  if (dryer.probes.length === 0) return <p className="my-2 text-sm">No probe pair yet.</p>;
  return (
    <table className="my-2 w-full bg-paper text-left text-sm">
      <thead>
        <tr>
          {["set", "air", "room", ""].map((head) => (
            <th key={head} scope="col" className="px-2 py-1 font-normal text-muted">
              {head || <span className="sr-only">remove</span>}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {dryer.probes.map((probe) => (
          <tr key={probe.id} className="border-t border-line">
            <td className="px-2 num">{bareTemp(probe.set_c)}</td>
            <td className="px-2 num">{bareTemp(probe.air_c)}</td>
            <td className="px-2 num">{probe.room_c === null ? "—" : bareTemp(probe.room_c)}</td>
            <td className="px-2 text-right">
              <RemoveButton
                removal={remove}
                id={probe.id}
                label={`Remove the pair set ${temp(probe.set_c)}, air ${temp(probe.air_c)}`}
                done="Probe pair removed."
              />
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

const SHAPE = z.object({
  set_c: quantity("temp", "what was set", 60),
  air_c: quantity("temp", "what the probe showed", 55.5),
  room_c: maybeQuantity("temp", "the room’s temperature", 21.5),
});
const NO_PAIR = { set_c: "", air_c: "", room_c: "" };

function PairForm({ dryer }: { dryer: Dryer }) {
  const { notify } = useShell();
  const add = useAddProbe();
  const form = useActForm(SHAPE, NO_PAIR);
  const { control } = form;
  const submit = form.submit(async (body) => {
    const { undo } = await add.mutateAsync({ id: dryer.id, body });
    form.reset(NO_PAIR);
    notify({ text: `Noted a probe pair for ${dryer.name}.`, undo });
  });
  const bed = dryer.calibration.kind === "bed";
  return (
    <form
      noValidate
      className="flex flex-col gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        submit();
      }}
    >
      <div className="grid grid-cols-3 items-start gap-2">
        <NumberField control={control} name="set_c" label={bed ? "Bed" : "Set"} measure="temp" />
        <NumberField control={control} name="air_c" label="Air" measure="temp" />
        <NumberField control={control} name="room_c" label="Room" measure="temp" />
      </div>
      {form.problem !== undefined && <Alert>{form.problem}</Alert>}
      <Button kind="quiet" type="submit" className="self-start" disabled={form.busy}>
        Note the pair
      </Button>
    </form>
  );
}
