import { useNavigate } from "react-router";
import * as z from "zod";
import { Alert } from "../../components/Alert";
import { Button } from "../../components/Button";
import { PageHeading } from "../../components/PageHeading";
import { TextField } from "../../forms/fields";
import { useActForm } from "../../forms/useActForm";
import { useJoin } from "./acts";
import { NEW_PASSWORD } from "./words";

const SHAPE = z.object({ password: NEW_PASSWORD });

/** Where an invitation leads: choosing a password. The secret stands behind the "#" of the address. */
export function JoinPage() {
  const navigate = useNavigate();
  const join = useJoin();
  const form = useActForm(SHAPE, { password: "" });
  return (
    <main className="mx-auto max-w-sm px-5 pt-16">
      <p className="mb-6 text-xl font-bold tracking-tight">darre</p>
      <PageHeading page="Join" className="mb-6">
        You are invited. Choose a password, and you are in.
      </PageHeading>
      <form
        noValidate
        className="flex flex-col gap-4"
        onSubmit={(event) => {
          event.preventDefault();
          form.submit(async ({ password }) => {
            await join.mutateAsync({ secret: window.location.hash.slice(1), password });
            await navigate("/", { replace: true });
          })();
        }}
      >
        <TextField
          control={form.control}
          name="password"
          label="Your new password"
          type="password"
          autoComplete="new-password"
          hint="At least 10 characters. Three words nobody would guess do well."
        />
        <Button kind="primary" type="submit" className="justify-center" disabled={form.busy}>
          Join
        </Button>
        {form.problem !== undefined && <Alert>{form.problem}</Alert>}
      </form>
    </main>
  );
}
