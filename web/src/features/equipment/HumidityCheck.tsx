import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { Device } from "../../api/client";
import { Button } from "../../components/Button";
import { Picker } from "../../components/Picker";
import { Slip } from "../../components/Slip";
import { useShell } from "../../components/shell";
import { useSetHumidityOffset } from "./acts";
import { humidityCheck, type Salt } from "./queries";
import { checkWords, offsetWords, SALT_CARE, SALTS } from "./words";

interface Props {
  device: Device;
  /** The loggers that it may have lain beside. */
  others: readonly Device[];
  onClose: () => void;
}

/** By how much a logger’s humidity is off, by its last hours over a salt or beside another, and taking that off. */
export function HumidityCheck({ device, others, onClose }: Props) {
  const { notify } = useShell();
  const [where, setWhere] = useState<string>("sodium_chloride");
  const salt = SALTS.find(({ value }) => value === where)?.value;
  const { data, error, isFetching } = useQuery(
    humidityCheck(device.id, salt ? { salt } : { beside: Number(where) }),
  );
  const set = useSetHumidityOffset();
  const takeOff = async (offset_pct: number) => {
    const { undo } = await set.mutateAsync({ id: device.id, offset_pct: Number(offset_pct.toFixed(1)) });
    onClose();
    notify({ text: offsetWords(device.name, offset_pct), undo });
  };
  const found = isFetching ? undefined : data;
  const off = found?.tells ? found.offset_pct.value : null;
  return (
    <Slip
      title={`The humidity of ${device.name}`}
      problem={set.error?.message ?? (isFetching ? undefined : error?.message)}
      onClose={onClose}
      onSubmit={() => {
        if (off === null) onClose();
        else void takeOff(off);
      }}
    >
      <How salt={salt} />
      <Picker
        label="It was"
        value={where}
        onChoose={setWhere}
        options={[
          ...SALTS.map(({ value, name }) => ({ value, name: `over ${name}` })),
          ...others.map(({ id, name }) => ({ value: String(id), name: `beside ${name}` })),
        ]}
      />
      <p role="status">{found && checkWords(found)}</p>
      <div className="flex flex-wrap gap-3">
        {off !== null && (
          <Button kind="primary" type="submit" disabled={set.isPending}>
            Take that off from now on
          </Button>
        )}
        {device.rh_offset_pct !== 0 && (
          <Button
            kind="quiet"
            disabled={set.isPending}
            onClick={() => {
              void takeOff(0);
            }}
          >
            Take nothing off any more
          </Button>
        )}
      </div>
    </Slip>
  );
}

/** What to do for a check, and what to mind. */
function How({ salt }: { salt: Salt | undefined }) {
  if (!salt)
    return <p className="text-sm">Let the two lie side by side for a few hours, out of sun and draught.</p>;
  const care = SALT_CARE[salt];
  return (
    <>
      <p className="text-sm">
        Close it for eight hours in a small jar with a spoonful of the salt, wetted to a paste. The paste must
        not touch it.
      </p>
      {care && <p className="font-bold text-heat">{care}</p>}
    </>
  );
}
