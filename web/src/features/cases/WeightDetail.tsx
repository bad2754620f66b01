import type { CaseEvidence, CaseFacts, SignId } from "../../api/client";
import { useNoteSigns, useRemoveOwn } from "./acts";
import { fixed, percent } from "../../domain/numbers";
import { Button } from "../../components/Button";
import { useShell } from "../../components/shell";
import { CAUSE_WORDS, inTen, SIGN_WORDS } from "./caseWords";
import { SeenChoice } from "./SeenChoice";
import { Alert } from "../../components/Alert";

type Weight = CaseEvidence["weights"][number];

/** Why the case starts where it does. */
export function StartDetail({ page }: { page: CaseFacts }) {
  const { evidence } = page;
  return (
    <p className="max-w-prose text-sm">
      {evidence.moisture_assumed
        ? "Nothing was known of this spool when it printed, so we assume what such filament usually holds in a room. "
        : "Taken from the spool’s moisture history at the hour of the print: what its outer turns held, which were printed. "}
      {evidence.trouble_pct !== null &&
        `The chance that it was above the trouble threshold of ${percent(evidence.trouble_pct)} % was ${inTen(evidence.p_wet)}, given what we know of both. `}
      We assume that water caused nine in ten bad prints from filament above its threshold; of those below it
      three in a hundred: {inTen(evidence.start_p)} before anything was looked at.
    </p>
  );
}

/** Why a sign weighs what it weighs, and the way to change it. */
export function SignDetail({ page, weight, sign }: { page: CaseFacts; weight: Weight; sign: SignId }) {
  const note = useNoteSigns();
  const { notify } = useShell();
  const words = SIGN_WORDS[sign];
  return (
    <div className="flex flex-col gap-3 text-sm">
      <p className="max-w-prose">
        {weight.why} Without it: {inTen(weight.p_without)}.
        {weight.share < 1 && " A stronger related sign was looked for too, so this one counts half."}
      </p>
      <dl className="flex flex-wrap gap-x-6 gap-y-1">
        {weight.chances.map((chance) => (
          <div key={chance.cause} className={chance.cause === "water" ? "font-bold" : ""}>
            <dt className="inline">{CAUSE_WORDS[chance.cause]} </dt>
            <dd className="inline num">{fixed(100 * (weight.seen ? chance.p : 1 - chance.p), 0)} %</dd>
          </div>
        ))}
      </dl>
      <p className="text-muted">
        How often {weight.seen ? "it is seen" : "it is not seen, when looked for,"} in a bad print of each
        cause.
      </p>
      {sign !== "caliper" && (
        <SeenChoice
          label={words.name}
          value={weight.seen}
          seen={words.seen}
          unseen={words.unseen}
          onChoose={(seen) => {
            note.mutate(
              { id: page.case.id, signs: [{ sign, seen }] },
              {
                onSuccess: ({ undo }) => {
                  notify({ text: `Changed: ${words.name.toLowerCase()}.`, undo });
                },
              },
            );
          }}
        />
      )}
      {note.error && <Alert>{note.error.message}</Alert>}
    </div>
  );
}

/** An observation of one's own, and the way to take it back. */
export function OwnDetail({ page, weight }: { page: CaseFacts; weight: Weight }) {
  const remove = useRemoveOwn();
  const { notify } = useShell();
  const own = page.own_observations.find((observation) => observation.text === weight.text);
  if (!own) return null;
  return (
    <p className="text-sm">
      You hold it to be {own.times >= 1 ? fixed(own.times, 1) : fixed(1 / own.times, 1)} times likelier when
      it is {own.times >= 1 ? "the water" : "something else"}.{" "}
      <Button
        kind="link"
        onClick={() => {
          remove.mutate(own.id, {
            onSuccess: ({ undo }) => {
              notify({ text: "Removed it from the case.", undo });
            },
          });
        }}
      >
        take it off
      </Button>
    </p>
  );
}
