import { Button } from "@headlessui/react";
import { useState } from "react";
import { type CaseFacts } from "../../api/client";
import { useCaliper } from "./acts";
import { fixed } from "../../domain/numbers";
import { numbersIn } from "../../domain/typed";
import { refusal } from "../../components/refusal";
import { useShell } from "../../components/shell";
import { Field } from "../../components/Field";
import { quiet } from "../../components/classes";
import { Alert } from "../../components/Alert";

const FINDING = {
  wider: "The suspect varies more: it counts as seen.",
  not_wider: "It does not vary more: it counts as looked for and not seen.",
  no_finding: "Too few readings to tell: it does not count. Measure more places.",
} as const;

/** Diameters along the strand, of the suspect and of a dry one; what their spread tells. */
export function CaliperForm({ page }: { page: CaseFacts }) {
  const caliper = useCaliper();
  const { notify } = useShell();
  const was = page.caliper;
  const [suspect, setSuspect] = useState(was ? was.suspect_mm.join(" ") : "");
  const [dry, setDry] = useState(was ? was.dry_mm.join(" ") : "");
  const { refused, of } = refusal(caliper.error);
  return (
    <div className="flex flex-col gap-3 bg-paper p-3">
      <Field
        label="Suspect filament"
        unit="mm"
        value={suspect}
        hint="every reading, with spaces between: 1.72 1.80 1.69 …"
        error={of("suspect_mm")}
        onText={setSuspect}
      />
      <Field
        label="Dry filament to compare with"
        unit="mm"
        value={dry}
        hint="left empty: against the usual spread of 0.03 mm, an estimate"
        error={of("dry_mm")}
        onText={setDry}
      />
      {was && (
        <p className="text-sm">
          Spread <span className="num">{fixed(was.sd_mm, 3)}</span> mm against{" "}
          <span className="num">{fixed(was.dry_sd_mm, 3)}</span> mm: {fixed(was.ratio, 1)} times (between{" "}
          {fixed(was.low, 1)} and {fixed(was.high, 1)}). {FINDING[was.finding]}
        </p>
      )}
      <Button
        type="button"
        className={`${quiet} self-start`}
        disabled={caliper.isPending}
        onClick={() => {
          caliper.mutate(
            { id: page.case.id, body: { suspect_mm: numbersIn(suspect), dry_mm: numbersIn(dry) } },
            {
              onSuccess: ({ undo }) => {
                notify({ text: "Saved the caliper readings.", undo });
              },
            },
          );
        }}
      >
        Compare the spreads
      </Button>
      {refused && !of("suspect_mm") && !of("dry_mm") && <Alert>{refused.message}</Alert>}
    </div>
  );
}
