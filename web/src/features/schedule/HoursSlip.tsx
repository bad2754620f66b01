import * as z from "zod";
import type { Schedule } from "../../api/client";
import { Button } from "../../components/Button";
import { Slip } from "../../components/Slip";
import { useShell } from "../../components/shell";
import { toLocalField, when } from "../../domain/times";
import { ChoiceField, MomentField, TextField } from "../../forms/fields";
import { maybeWords, moment, words } from "../../forms/shape";
import { useActForm } from "../../forms/useActForm";
import { useAddHelper, useAddHomeChange, useRemoveHelper, useRemoveHomeChange } from "./acts";

interface Props {
  data: Schedule;
  onClose: () => void;
  onDone: () => void;
}

const HOUR = 3_600_000;

/** Who is at home when: a stretch that is not as usual, and other people with their hours. */
export function HoursSlip({ data, onClose, onDone }: Props) {
  const now = new Date(data.now);
  const removeChange = useRemoveHomeChange();
  const removeHelper = useRemoveHelper();
  const gone = { onSuccess: onDone };
  return (
    <ChangeForm now={now} onClose={onClose} onDone={onDone}>
      <section>
        <h3 className="font-bold">Not as usual</h3>
        {data.changes.length === 0 && <p className="text-sm text-muted">Nothing so far.</p>}
        <ul className="text-sm">
          {data.changes.map((change) => (
            <li key={change.id} className="flex justify-between gap-3 border-t border-line py-1">
              <span>
                {change.at_home ? "at home" : "nobody at home"} {when(new Date(change.since), now)} to{" "}
                {when(new Date(change.until), now)}
              </span>
              <Button
                kind="link"
                onClick={() => {
                  removeChange.mutate(change.id, gone);
                }}
              >
                remove
              </Button>
            </li>
          ))}
        </ul>
      </section>
      <section>
        <h3 className="font-bold">Others who load and take out</h3>
        <p className="text-sm text-muted">Your own hours of the week are in Settings.</p>
        <ul className="text-sm">
          {data.helpers.map((helper) => (
            <li key={helper.id} className="flex justify-between gap-3 border-t border-line py-1">
              <span>
                <b>{helper.name}</b> weekdays {helper.weekdays || "–"}, weekends {helper.weekends || "–"}
              </span>
              <Button
                kind="link"
                onClick={() => {
                  removeHelper.mutate(helper.id, gone);
                }}
              >
                remove
              </Button>
            </li>
          ))}
        </ul>
        <HelperForm onDone={onDone} />
      </section>
    </ChangeForm>
  );
}

const CHANGE = z.object({
  at_home: z.enum(["home", "away"]),
  since: moment,
  until: moment,
  note: maybeWords,
});

function ChangeForm({
  now,
  onClose,
  onDone,
  children,
}: { now: Date; children: React.ReactNode } & Pick<Props, "onClose" | "onDone">) {
  const { notify } = useShell();
  const add = useAddHomeChange();
  const form = useActForm(CHANGE, {
    at_home: "home",
    since: toLocalField(now),
    until: toLocalField(new Date(now.getTime() + 4 * HOUR)),
    note: "",
  });
  const submit = form.submit(async ({ at_home, ...rest }) => {
    const { undo } = await add.mutateAsync({ ...rest, at_home: at_home === "home" });
    notify({ text: at_home === "home" ? "Noted: at home then." : "Noted: nobody at home then.", undo });
    onDone();
  });
  return (
    <Slip title="Who is at home when" problem={form.problem} onClose={onClose} onSubmit={submit} wide>
      <ChoiceField
        control={form.control}
        name="at_home"
        label="Somebody is"
        across
        options={[
          { value: "home", name: "at home then" },
          { value: "away", name: "not at home then" },
        ]}
      />
      <div className="grid gap-3 sm:grid-cols-2">
        <MomentField control={form.control} name="since" label="From" />
        <MomentField control={form.control} name="until" label="To" />
      </div>
      <Button kind="primary" type="submit" disabled={form.busy} className="self-start">
        Save
      </Button>
      {children}
    </Slip>
  );
}

const HELPER = z.object({ name: words("a name", "Nell"), weekdays: maybeWords, weekends: maybeWords });

/** Somebody else; it is no form of its own, since it stands in one. */
function HelperForm({ onDone }: { onDone: () => void }) {
  const { notify } = useShell();
  const add = useAddHelper();
  const form = useActForm(HELPER, { name: "", weekdays: "", weekends: "" });
  const submit = form.submit(async (values) => {
    const { undo } = await add.mutateAsync(values);
    notify({ text: `${values.name} helps with the dryers.`, undo });
    onDone();
  });
  return (
    <div className="mt-2 grid items-end gap-3 sm:grid-cols-[1fr_1fr_1fr_auto]">
      <TextField control={form.control} name="name" label="Name" maxLength={60} />
      <TextField control={form.control} name="weekdays" label="Weekdays" placeholder="11-14" />
      <TextField control={form.control} name="weekends" label="Weekends" placeholder="9-20" />
      <Button kind="quiet" onClick={submit} disabled={form.busy}>
        Add
      </Button>
    </div>
  );
}
