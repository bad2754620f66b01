import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { type Device, type Dryer, type Scale } from "../../api/client";
import { useAddDevice, useRemoveDevice, useRenewToken } from "./acts";
import { devices as devicesQuery } from "./queries";
import { places as placesQuery } from "../storage/queries";
import { since } from "../../domain/times";
import { Button } from "../../components/Button";
import { Slip } from "../../components/Slip";
import { RemoveButton } from "../../components/RemoveButton";
import { HumidityCheck } from "./HumidityCheck";
import { DEVICE_WORDS, knownOffset } from "./words";
import { LoggerFile } from "./LoggerFile";
import { useWatch } from "react-hook-form";
import { PickField, TextField } from "../../forms/fields";
import { optionsOf } from "../../forms/options";
import { words } from "../../forms/shape";
import { useActForm } from "../../forms/useActForm";
import * as z from "zod";

const OPEN_KINDS: readonly string[] = ["shelf", "printer", "warm_box"];

interface Props {
  dryers: Dryer[];
  scales: Scale[];
}

/** What sends readings by itself, or gives them as a file. */
export function Devices({ dryers, scales }: Props) {
  // What is typed off a meter is kept as a device, and nothing that sends.
  const data = useQuery(devicesQuery).data?.filter((device) => !device.by_hand);
  const remove = useRemoveDevice();
  const renew = useRenewToken();
  const [open, setOpen] = useState<"add" | "file" | null>(null);
  const [told, setTold] = useState<{ name: string; token: string } | null>(null);
  const [checked, setChecked] = useState<Device | null>(null);
  const { data: places = [] } = useQuery(placesQuery);
  const at = (device: Device) =>
    dryers.find((dryer) => dryer.id === device.dryer)?.name ??
    places.find((place) => place.id === device.place)?.name ??
    scales.find((scale) => scale.id === device.scale)?.name ??
    "the room";
  const close = () => {
    setOpen(null);
  };
  return (
    <section aria-label="Devices">
      <h2 className="text-sm font-normal text-muted">Devices that send readings</h2>
      {data?.length === 0 && <p className="text-sm">None yet. You can also read in a logger’s file.</p>}
      <ul>
        {data?.map((device) => (
          <li key={device.id} className="border-b border-line py-1">
            <strong>{device.name}</strong>
            <span className="block text-sm text-muted">
              {DEVICE_WORDS[device.kind]} · {at(device)} ·{" "}
              {device.last_seen ? `${since(new Date(device.last_seen), new Date())} ago` : "never heard"}
              {knownOffset(device)}
            </span>
            <span className="flex flex-wrap gap-x-3 text-sm whitespace-nowrap">
              {device.kind === "logger" && (
                <Button
                  kind="link"
                  aria-label={`Check humidity of ${device.name}`}
                  onClick={() => {
                    setChecked(device);
                  }}
                >
                  check humidity
                </Button>
              )}
              <Button
                kind="link"
                aria-label={`New token for ${device.name}`}
                onClick={() => {
                  renew.mutate(device.id, {
                    onSuccess: ({ token }) => {
                      setTold({ name: device.name, token });
                    },
                  });
                }}
              >
                new token
              </Button>
              <RemoveButton
                removal={remove}
                id={device.id}
                label={`Remove ${device.name}`}
                done={`Removed ${device.name}.`}
              />
            </span>
          </li>
        ))}
      </ul>
      <div className="mt-1 flex flex-wrap gap-3 text-sm">
        <Button
          kind="link"
          onClick={() => {
            setOpen("add");
          }}
        >
          add a device
        </Button>
        <Button
          kind="link"
          onClick={() => {
            setOpen("file");
          }}
        >
          read a logger’s file
        </Button>
      </div>
      {open === "add" && <AddDevice dryers={dryers} scales={scales} onClose={close} onAdded={setTold} />}
      {open === "file" && <LoggerFile devices={data ?? []} onClose={close} />}
      {checked && (
        <HumidityCheck
          device={checked}
          others={(data ?? []).filter(({ id, kind }) => kind === "logger" && id !== checked.id)}
          onClose={() => {
            setChecked(null);
          }}
        />
      )}
      {told && (
        <Token
          {...told}
          onClose={() => {
            setTold(null);
          }}
        />
      )}
    </section>
  );
}

/** A token is told once. */
function Token({ name, token, onClose }: { name: string; token: string; onClose: () => void }) {
  return (
    <Slip title={`The token of ${name}`} onClose={onClose} onSubmit={onClose}>
      <p>Copy it into the device now; it is not shown again.</p>
      <p className="border-2 border-line bg-paper p-2 num break-all select-all">{token}</p>
      <p className="text-sm text-muted">
        It sends to {window.location.origin}/api/ingest/ with the header “Authorization: Bearer …”.
      </p>
      <Button type="submit" kind="primary" className="justify-center">
        I have it
      </Button>
    </Slip>
  );
}

interface AddProps extends Props {
  onClose: () => void;
  onAdded: (told: { name: string; token: string }) => void;
}

const SHAPE = z.object({
  name: words("a name", "shelf logger"),
  kind: z.custom<Device["kind"]>(),
  at: z.string(),
  scale: z.number(),
});

function AddDevice({ dryers, scales, onClose, onAdded }: AddProps) {
  const add = useAddDevice();
  const { data: places = [] } = useQuery(placesQuery);
  const containers = places.filter((place) => !OPEN_KINDS.includes(place.kind));
  const form = useActForm(SHAPE, { name: "", kind: "logger", at: "room", scale: scales[0]?.id ?? 0 });
  const { control } = form;
  const isScale = useWatch({ control, name: "kind" }) === "scale";
  const submit = form.submit(async ({ name, kind, at, scale }) => {
    const [what, id] = at.split(" ");
    const where = kind === "scale" ? { scale } : what === "room" ? {} : { [what ?? ""]: Number(id) };
    const { device, token } = await add.mutateAsync({ name, kind, ...where });
    onClose();
    onAdded({ name: device.name, token });
  });
  return (
    <Slip title="Add a device" problem={form.problem} onClose={onClose} onSubmit={submit}>
      <TextField control={control} name="name" label="Name" maxLength={60} />
      <PickField control={control} name="kind" label="It is" options={optionsOf(DEVICE_WORDS)} />
      {isScale ? (
        <PickField
          control={control}
          name="scale"
          label="Scale"
          options={scales.map((scale) => ({ value: scale.id, name: scale.name }))}
        />
      ) : (
        <PickField
          control={control}
          name="at"
          label="It is at"
          options={[
            { value: "room", name: "the room", note: "a logger here measures the room’s air" },
            ...dryers.map((dryer) => ({ value: `dryer ${dryer.id}`, name: dryer.name })),
            ...containers.map((container) => ({
              value: `place ${container.id}`,
              name: container.name,
              note: "a logger here measures what leaks in",
            })),
          ]}
        />
      )}
      <Button kind="quiet" type="submit" className="justify-center" disabled={form.busy}>
        Add it and show its token
      </Button>
    </Slip>
  );
}
