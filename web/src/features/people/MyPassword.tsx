import * as z from "zod";
import { Alert } from "../../components/Alert";
import { Button } from "../../components/Button";
import { panel } from "../../components/classes";
import { useShell } from "../../components/shell";
import { TextField } from "../../forms/fields";
import { useActForm } from "../../forms/useActForm";
import { useChangePassword } from "./acts";
import { NEW_PASSWORD } from "./words";

const SHAPE = z.object({
  old: z.string().min(1, { error: "Needed: your present password." }),
  password: NEW_PASSWORD,
});

/** Another password for oneself. */
export function MyPassword() {
  const { notify } = useShell();
  const change = useChangePassword();
  const form = useActForm(SHAPE, { old: "", password: "" });
  return (
    <section className={panel}>
      <h2 className="mb-3 text-lg font-bold">Your password</h2>
      <form
        noValidate
        className="flex max-w-sm flex-col gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          form.submit(async (values) => {
            await change.mutateAsync(values);
            form.reset();
            notify({ text: "Changed your password. Your other devices are signed out.", undo: null });
          })();
        }}
      >
        <TextField
          control={form.control}
          name="old"
          label="Present password"
          type="password"
          autoComplete="current-password"
        />
        <TextField
          control={form.control}
          name="password"
          label="New password"
          type="password"
          autoComplete="new-password"
        />
        <Button kind="quiet" type="submit" className="self-start" disabled={form.busy}>
          Change it
        </Button>
        {form.problem !== undefined && <Alert>{form.problem}</Alert>}
      </form>
    </section>
  );
}
