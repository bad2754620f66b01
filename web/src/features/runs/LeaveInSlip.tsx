import { useWatch } from "react-hook-form";
import * as z from "zod";
import type { RunSheet } from "../../api/client";
import { Button } from "../../components/Button";
import { useShell } from "../../components/shell";
import { Slip } from "../../components/Slip";
import { shownIn } from "../../domain/measures";
import { ChoiceField, NumberField } from "../../forms/fields";
import { maybeQuantity } from "../../forms/shape";
import { useActForm } from "../../forms/useActForm";
import { useEndRun } from "./acts";

const SHAPE = z.object({
  how: z.enum(["off", "warm"]),
  hold_c: maybeQuantity("temp", "the air at the spool", 45),
});

/** The run is over and the spool stays where it is: from now on the dryer is its place. */
export function LeaveInSlip({ run, onClose }: { run: RunSheet["run"]; onClose: () => void }) {
  const { notify } = useShell();
  const end = useEndRun();
  const form = useActForm(SHAPE, { how: "off", hold_c: shownIn("temp", Math.min(45, run.temp_c)) });
  const { control } = form;
  const warm = useWatch({ control, name: "how" }) === "warm";
  const submit = form.submit(async ({ how, hold_c }) => {
    const { undo } = await end.mutateAsync({
      run: run.id,
      weigh_out: null,
      left_in: true,
      hold_c: how === "warm" ? hold_c : null,
    });
    onClose();
    notify({
      text: `Ended drying. ${run.spool.name} stays in ${run.dryer.name}; move it with M once you take it out.`,
      undo,
    });
  });
  return (
    <Slip
      title={`Leave ${run.spool.name} in ${run.dryer.name}`}
      problem={form.problem}
      onClose={onClose}
      onSubmit={submit}
    >
      <ChoiceField
        control={control}
        name="how"
        label="The dryer is"
        across
        options={[
          { value: "off", name: "switched off" },
          { value: "warm", name: "kept warm" },
        ]}
      />
      {warm && (
        <>
          <NumberField control={control} name="hold_c" label="Air at the spool" measure="temp" />
          <p className="border-l-4 border-heat pl-2 text-sm">
            A heater left on for days can start a fire. Follow the maker’s manual, keep a smoke alarm near,
            cover nothing.
          </p>
        </>
      )}
      <Button kind="primary" type="submit" className="justify-center" disabled={form.busy}>
        End drying, leave it in
      </Button>
    </Slip>
  );
}
