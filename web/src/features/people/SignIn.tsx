import * as z from "zod";
import { Button } from "../../components/Button";
import { PageHeading } from "../../components/PageHeading";
import { Alert } from "../../components/Alert";
import { TextField } from "../../forms/fields";
import { words } from "../../forms/shape";
import { useActForm } from "../../forms/useActForm";
import { waiting } from "../outbox/outbox";
import { useSignIn } from "./acts";

const SHAPE = z.object({
  name: words("your name", "Nell"),
  password: z.string().min(1, { error: "Needed: your password." }),
});

/** The one page that is shown before somebody has signed in. */
export function SignIn() {
  const enter = useSignIn();
  const waits = waiting().length;
  const form = useActForm(SHAPE, { name: "", password: "" });
  return (
    <main className="mx-auto max-w-sm px-5 pt-16">
      <p className="mb-6 text-xl font-bold tracking-tight">darre</p>
      <PageHeading page="Sign in" className="mb-6">
        Sign in to this workshop.
      </PageHeading>
      <form
        noValidate
        className="flex flex-col gap-4"
        onSubmit={(event) => {
          event.preventDefault();
          form.submit((values) => enter.mutateAsync(values))();
        }}
      >
        <TextField control={form.control} name="name" label="Name" autoComplete="username" />
        <TextField
          control={form.control}
          name="password"
          label="Password"
          type="password"
          autoComplete="current-password"
        />
        <Button kind="primary" type="submit" className="justify-center" disabled={form.busy}>
          {form.busy ? "Signing in …" : "Sign in"}
        </Button>
        {form.problem !== undefined && <Alert>{form.problem}</Alert>}
      </form>
      {waits > 0 && (
        <p role="status" className="mt-6 border-l-4 border-ink bg-paper p-3">
          {waits === 1
            ? "One entry waits in this browser, and is"
            : `${waits} entries wait in this browser, and are`}{" "}
          sent once you have signed in.
        </p>
      )}
      <p className="mt-6 text-sm text-muted">
        No account yet, or forgot your password? An owner of this workshop can invite you under Settings →
        People and devices.
      </p>
    </main>
  );
}
