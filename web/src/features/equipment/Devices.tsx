import { Button } from "@headlessui/react";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { type Device, type Dryer, type Scale } from "../../api/client";
import { useAddDevice, useRemoveDevice, useRenewToken } from "./acts";
import { devices as devicesQuery } from "./queries";
import { places as placesQuery } from "../storage/queries";
import { since } from "../../domain/times";
import { Field } from "../../components/Field";
import { Picker } from "../../components/Picker";
import { Slip } from "../../components/Slip";
import { RemoveButton } from "../../components/RemoveButton";
import { link, primary, quiet } from "../../components/classes";
import { DEVICE_WORDS } from "./words";
import { LoggerFile } from "./LoggerFile";
import { Alert } from "../../components/Alert";
import { refusal } from "../../components/refusal";

const OPEN_KINDS: readonly string[] = ["shelf", "printer", "warm_box"];

interface Props {
  dryers: Dryer[];
  scales: Scale[];
}

/** What sends readings by itself, or gives them as a file. */
export function Devices({ dryers, scales }: Props) {
  const { data } = useQuery(devicesQuery);
  const remove = useRemoveDevice();
  const renew = useRenewToken();
  const [open, setOpen] = useState<"add" | "file" | null>(null);
  const [told, setTold] = useState<{ name: string; token: string } | null>(null);
  const { data: places = [] } = useQuery(placesQuery);
  const at = (it: Device) =>
    dryers.find((dryer) => dryer.id === it.dryer)?.name ??
    places.find((place) => place.id === it.place)?.name ??
    scales.find((scale) => scale.id === it.scale)?.name ??
    "the room";
  const close = () => {
    setOpen(null);
  };
  return (
    <section aria-label="Devices">
      <h2 className="text-sm font-normal text-muted">Devices that send readings</h2>
      {data?.length === 0 && <p className="text-sm">None yet. You can also read in a logger’s file.</p>}
      <ul>
        {data?.map((it) => (
          <li key={it.id} className="border-b border-line py-1">
            <strong>{it.name}</strong>
            <span className="block text-sm text-muted">
              {DEVICE_WORDS[it.kind]} · {at(it)} ·{" "}
              {it.last_seen ? `${since(new Date(it.last_seen), new Date())} ago` : "never heard"}
            </span>
            <span className="flex gap-3 text-sm">
              <Button
                className={link}
                aria-label={`New token for ${it.name}`}
                onClick={() => {
                  renew.mutate(it.id, {
                    onSuccess: ({ token }) => {
                      setTold({ name: it.name, token });
                    },
                  });
                }}
              >
                new token
              </Button>
              <RemoveButton
                removal={remove}
                id={it.id}
                label={`Remove ${it.name}`}
                done={`Removed ${it.name}.`}
              />
            </span>
          </li>
        ))}
      </ul>
      <div className="mt-1 flex flex-wrap gap-3 text-sm">
        <Button
          className={link}
          onClick={() => {
            setOpen("add");
          }}
        >
          add a device
        </Button>
        <Button
          className={link}
          onClick={() => {
            setOpen("file");
          }}
        >
          read a logger’s file
        </Button>
      </div>
      {open === "add" && <AddDevice dryers={dryers} scales={scales} onClose={close} onAdded={setTold} />}
      {open === "file" && <LoggerFile devices={data ?? []} onClose={close} />}
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
      <Button type="submit" className={`${primary} justify-center`}>
        I have it
      </Button>
    </Slip>
  );
}

interface AddProps extends Props {
  onClose: () => void;
  onAdded: (told: { name: string; token: string }) => void;
}

function AddDevice({ dryers, scales, onClose, onAdded }: AddProps) {
  const add = useAddDevice();
  const [name, setName] = useState("");
  const [kind, setKind] = useState<Device["kind"]>("logger");
  const { data: places = [] } = useQuery(placesQuery);
  const containers = places.filter((it) => !OPEN_KINDS.includes(it.kind));
  const [at, setAt] = useState("room");
  const [scale, setScale] = useState(scales[0]?.id ?? 0);
  const { refused } = refusal(add.error);
  return (
    <Slip
      title="Add a device"
      onClose={onClose}
      onSubmit={() => {
        const [what, id] = at.split(" ");
        const where = kind === "scale" ? { scale } : what === "room" ? {} : { [what ?? ""]: Number(id) };
        add.mutate(
          { name, kind, ...where },
          {
            onSuccess: ({ device, token }) => {
              onClose();
              onAdded({ name: device.name, token });
            },
          },
        );
      }}
    >
      <Field
        label="Name"
        value={name}
        maxLength={60}
        error={refused?.field === "name" ? refused.message : undefined}
        onText={(text) => {
          setName(text);
          add.reset();
        }}
      />
      <Picker
        label="It is"
        value={kind}
        options={Object.entries(DEVICE_WORDS).map(([value, words]) => ({
          value: value as Device["kind"],
          name: words,
        }))}
        onChoose={setKind}
      />
      {kind === "scale" ? (
        <Picker
          label="Scale"
          value={scale}
          options={scales.map((it) => ({ value: it.id, name: it.name }))}
          onChoose={setScale}
        />
      ) : (
        <Picker
          label="It is at"
          value={at}
          options={[
            { value: "room", name: "the room", note: "a logger here tells the room’s air" },
            ...dryers.map((it) => ({ value: `dryer ${it.id}`, name: it.name })),
            ...containers.map((it) => ({
              value: `place ${it.id}`,
              name: it.name,
              note: "a logger here tells what gets in",
            })),
          ]}
          onChoose={setAt}
        />
      )}
      {refused && refused.field !== "name" && <Alert>{refused.message}</Alert>}
      <Button type="submit" className={`${quiet} justify-center`} disabled={add.isPending}>
        Add it and show its token
      </Button>
    </Slip>
  );
}
