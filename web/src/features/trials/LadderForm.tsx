import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Alert } from "../../components/Alert";
import { Button } from "../../components/Button";
import { Field } from "../../components/Field";
import { panel } from "../../components/classes";
import { fixed, percent } from "../../domain/numbers";
import { numbersIn } from "../../domain/typed";
import { lanes as lanesQuery } from "../rack/queries";
import { SpoolPicker } from "../spools/SpoolPicker";
import { useBeginLadder } from "./acts";
import { useBegun } from "./useBegun";
import { ladderDesign } from "./queries";
import { ladderPromise } from "./words";

/** A ladder of prints: which moistures, and what they will tell. */
export function LadderForm({ asked }: { asked: number | undefined }) {
  const lanes = useQuery(lanesQuery).data ?? [];
  const [spool, setSpool] = useState(asked);
  const [typed, setTyped] = useState<string>();
  const [doubt, setDoubt] = useState("");
  const found = useQuery(ladderDesign(spool));
  const begin = useBeginLadder();
  const { problem, setProblem, after } = useBegun("The ladder has begun.");
  const lane = lanes.find((one) => one.spool.id === spool);
  const planned = found.data?.moistures_pct.map((value) => String(value)).join(" ") ?? "";
  const moistures = numbersIn(typed ?? planned);
  const submit = () => {
    if (spool === undefined) {
      setProblem("Needed: the spool that is printed from.");
      return;
    }
    begin.mutate(
      {
        spool,
        note: "",
        rungs: moistures.map((moisture_pct) => ({ moisture_pct, plus_minus_pct: doubt === "" ? 0 : doubt })),
      },
      after,
    );
  };
  return (
    <div className="grid gap-6 lane:grid-cols-[26rem_1fr]">
      <form
        noValidate
        className={`${panel} flex flex-col gap-3`}
        onSubmit={(event) => {
          event.preventDefault();
          submit();
        }}
      >
        <SpoolPicker label="Printed from" lanes={lanes} lane={lane} onPick={setSpool} />
        <Field
          label="Moistures to print at"
          unit="%"
          inputMode="decimal"
          value={typed ?? planned}
          hint="With spaces between: 0.06 0.12 0.24"
          onText={setTyped}
        />
        <Field
          label="Each known to ±"
          unit="%"
          inputMode="decimal"
          value={doubt}
          hint="As the weighings of its coil tell. May be left out."
          onText={setDoubt}
        />
        {problem !== undefined && <Alert>{problem}</Alert>}
        <Button kind="primary" type="submit" disabled={begin.isPending} className="self-start">
          Begin
        </Button>
      </form>
      {found.data && lane ? (
        <section className={`${panel} max-w-prose self-start`}>
          <h2 className="mb-1">{ladderPromise(found.data)}</h2>
          <p className="text-sm">
            Now it is thought to show from {percent(found.data.before_pct)} %, within a factor of{" "}
            {fixed(found.data.before_factor, 1)}.
          </p>
          <ol className="mt-3 flex list-decimal flex-col gap-1 pl-5 text-sm">
            <li>Cut a coil for each moisture, dry them all, and weigh them.</li>
            <li>Let each lie in damp air until it has gained its share, and seal it in a jar for a day.</li>
            <li>
              Print the same small piece from each. Darre names them by letters, so that you rate blind.
            </li>
          </ol>
        </section>
      ) : (
        <p className={`${panel} self-start`}>
          {found.error?.message ?? "Choose a spool to see what to print, and what it will tell."}
        </p>
      )}
    </div>
  );
}
