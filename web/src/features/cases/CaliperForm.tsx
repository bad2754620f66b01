import { type CaseFacts } from "../../api/client";
import { useCaliper } from "./acts";
import { fixed } from "../../domain/numbers";
import { Button } from "../../components/Button";
import { useShell } from "../../components/shell";
import { Alert } from "../../components/Alert";
import { TextField } from "../../forms/fields";
import { numbers, someNumbers } from "../../forms/shape";
import { useActForm } from "../../forms/useActForm";
import * as z from "zod";

const FINDING = {
  wider: "The suspect varies more: it counts as seen.",
  not_wider: "It does not vary more: it counts as not seen.",
  no_finding: "Too few readings to tell: it does not count. Measure more places.",
} as const;

const SHAPE = z.object({
  suspect_mm: someNumbers("every diameter of the suspect filament", "1.72 1.80 1.69"),
  dry_mm: numbers("every diameter of the dry filament", "1.74 1.75 1.75"),
});

/** Diameters along the strand, of the suspect and of a dry one; what their spread tells. */
export function CaliperForm({ page }: { page: CaseFacts }) {
  const caliper = useCaliper();
  const { notify } = useShell();
  const was = page.caliper;
  const form = useActForm(SHAPE, {
    suspect_mm: was ? was.suspect_mm.join(" ") : "",
    dry_mm: was ? was.dry_mm.join(" ") : "",
  });
  const { control } = form;
  const compare = form.submit(async (body) => {
    const { undo } = await caliper.mutateAsync({ id: page.case.id, body });
    notify({ text: "Saved the caliper readings.", undo });
  });
  return (
    <div className="flex flex-col gap-3 bg-paper p-3">
      <TextField
        control={control}
        name="suspect_mm"
        label="Suspect filament"
        unit="mm"
        hint="every reading, with spaces between: 1.72 1.80 1.69 …"
      />
      <TextField
        control={control}
        name="dry_mm"
        label="Dry filament to compare with"
        unit="mm"
        hint="empty: compared with the usual spread of 0.03 mm, an estimate"
      />
      {was && (
        <p className="text-sm">
          Spread <span className="num">{fixed(was.sd_mm, 3)}</span> mm against{" "}
          <span className="num">{fixed(was.dry_sd_mm, 3)}</span> mm: {fixed(was.ratio, 1)} times (between{" "}
          {fixed(was.low, 1)} and {fixed(was.high, 1)}). {FINDING[was.finding]}
        </p>
      )}
      <Button kind="quiet" className="self-start" disabled={form.busy} onClick={compare}>
        Compare the spreads
      </Button>
      {form.problem !== undefined && <Alert>{form.problem}</Alert>}
    </div>
  );
}
