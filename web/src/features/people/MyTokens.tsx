import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import * as z from "zod";
import { Alert } from "../../components/Alert";
import { Button } from "../../components/Button";
import { panel } from "../../components/classes";
import { day } from "../../domain/times";
import { TextField } from "../../forms/fields";
import { words } from "../../forms/shape";
import { useActForm } from "../../forms/useActForm";
import { useMakeToken, useRemoveToken } from "./acts";
import { tokens as tokensQuery } from "./queries";

const SHAPE = z.object({ name: words("a name for it", "nightly export") });

/** Tokens for one's own scripts. */
export function MyTokens() {
  const { data: tokens = [] } = useQuery(tokensQuery);
  const make = useMakeToken();
  const remove = useRemoveToken();
  const [secret, setSecret] = useState<string | null>(null);
  const form = useActForm(SHAPE, { name: "" });
  return (
    <section className={panel}>
      <h2 className="mb-1 text-lg font-bold">Tokens for your scripts</h2>
      <p className="mb-3 text-sm text-muted">A script with a token may do what you may do.</p>
      <ul className="text-sm">
        {tokens.map((token) => (
          <li key={token.id} className="flex items-center gap-3 border-t border-line py-1">
            <span className="grow font-bold">{token.name}</span>
            <span className="text-muted">{day(new Date(token.made_at))}</span>
            <Button
              kind="link"
              aria-label={`remove ${token.name}`}
              onClick={() => {
                remove.mutate(token.id);
              }}
            >
              remove
            </Button>
          </li>
        ))}
      </ul>
      {secret !== null && (
        <div role="status" className="my-3 border-l-4 border-ink bg-ground p-3 text-sm">
          <p className="font-bold">Copy it now. It is shown only once.</p>
          <p className="num break-all">{secret}</p>
        </div>
      )}
      <form
        noValidate
        className="mt-3 flex max-w-sm flex-col gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          form.submit(async (values) => {
            setSecret((await make.mutateAsync(values)).secret);
            form.reset();
          })();
        }}
      >
        <TextField control={form.control} name="name" label="What is it for" maxLength={60} />
        <Button kind="quiet" type="submit" className="self-start" disabled={form.busy}>
          Make a token
        </Button>
        {(form.problem ?? remove.error?.message) !== undefined && (
          <Alert>{form.problem ?? remove.error?.message}</Alert>
        )}
      </form>
    </section>
  );
}
