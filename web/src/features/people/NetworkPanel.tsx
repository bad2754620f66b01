import { useState } from "react";
import * as z from "zod";
import type { components } from "../../api/schema";
import { Alert } from "../../components/Alert";
import { Button } from "../../components/Button";
import { link, panel } from "../../components/classes";
import { TextField } from "../../forms/fields";
import { words } from "../../forms/shape";
import { useActForm } from "../../forms/useActForm";
import { useFirstAccount, useOpenNetwork } from "./acts";
import { Code } from "./Code";
import { NEW_PASSWORD } from "./words";

type Network = components["schemas"]["Network"];

const SHAPE = z.object({ name: words("your name", "Nell"), password: NEW_PASSWORD });

/** Letting other devices in: what it means, the way there, and the address once it is done. */
export function NetworkPanel({ network }: { network: Network }) {
  const opening = useOpenNetwork();
  const [byHand, setByHand] = useState(false);
  const open = async (toOthers: boolean) => {
    const { starts_again } = await opening.mutateAsync(toOthers);
    setByHand(!starts_again);
  };
  return (
    <section className={`${panel} flex flex-col gap-4`}>
      <h2 className="text-lg font-bold">{network.open ? "From a phone" : "Use it from a phone"}</h2>
      {opening.isPending ? (
        <p role="status">Darre is restarting. This takes a few seconds …</p>
      ) : network.open ? (
        <Opened network={network} onClose={() => void open(false)} />
      ) : (
        <Closed network={network} open={open} />
      )}
      {byHand && <p role="status">Saved. Restart Darre for this to take effect.</p>}
      {opening.error && <Alert>{opening.error.message}</Alert>}
    </section>
  );
}

function Closed({ network, open }: { network: Network; open: (others: boolean) => Promise<void> }) {
  return (
    <>
      <p className="max-w-prose">
        Weigh at the bench with your phone, and share the rack with others. Devices in your network can then
        reach Darre over an encrypted connection, and everyone signs in, on this machine too.
      </p>
      {network.has_owner ? (
        <Button kind="primary" className="self-start" onClick={() => void open(true)}>
          Let other devices in
        </Button>
      ) : (
        <FirstAccount open={open} />
      )}
    </>
  );
}

function FirstAccount({ open }: { open: (others: boolean) => Promise<void> }) {
  const first = useFirstAccount();
  const form = useActForm(SHAPE, { name: "", password: "" });
  return (
    <form
      noValidate
      className="flex max-w-sm flex-col gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        form.submit(async (values) => {
          await first.mutateAsync(values);
          await open(true);
        })();
      }}
    >
      <p>First, create an account for yourself. You will be the owner of this workshop.</p>
      <TextField
        control={form.control}
        name="name"
        label="Your name"
        autoComplete="username"
        maxLength={60}
      />
      <TextField
        control={form.control}
        name="password"
        label="Password"
        type="password"
        autoComplete="new-password"
        hint="At least 10 characters. Three words nobody would guess do well."
      />
      <Button kind="primary" type="submit" className="self-start" disabled={form.busy}>
        Create my account and let other devices in
      </Button>
      {form.problem !== undefined && <Alert>{form.problem}</Alert>}
    </form>
  );
}

function Opened({ network, onClose }: { network: Network; onClose: () => void }) {
  const [first, ...others] = network.addresses;
  return (
    <>
      {first === undefined ? (
        <p>
          {network.taken_port === null
            ? "This machine seems to be in no network: no other device can reach it now."
            : `No other device can reach it now: another program uses port ${String(network.taken_port)}. Stop that one, then restart Darre.`}
        </p>
      ) : (
        <div className="flex gap-5 max-sm:flex-col">
          {network.svg !== null && <Code svg={network.svg} what={first} />}
          <div className="flex flex-col gap-2">
            <p>
              Scan this with the phone’s camera, or type the address. The phone must be in the same network.
            </p>
            <p>
              <a className={`${link} num text-lg font-bold break-all`} href={first}>
                {first}
              </a>
            </p>
            {others.length > 0 && (
              <p className="text-sm text-muted">
                Other addresses that may work:{" "}
                {others.map((address) => (
                  <span key={address} className="mr-2 inline-block num">
                    {address}
                  </span>
                ))}
              </p>
            )}
          </div>
        </div>
      )}
      {network.fingerprint !== null && !network.own_certificate && (
        <div className="text-sm">
          <p className="max-w-prose">
            Your phone will warn you once, because the certificate was made on this machine. Before you go on,
            check that the SHA-256 fingerprint it shows is this one:
          </p>
          <p className="mt-1 max-w-prose num">
            {network.fingerprint.split(":").map((pair, n) => (
              <span key={n}>
                {n > 0 && ":"}
                <wbr />
                {pair}
              </span>
            ))}
          </p>
        </div>
      )}
      <Button kind="quiet" className="self-start" onClick={onClose}>
        Use on this machine only
      </Button>
    </>
  );
}
