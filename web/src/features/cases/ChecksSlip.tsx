import { useState } from "react";
import { Link } from "react-router";
import type { CaseFacts, CheckId, SignId } from "../../api/client";
import { useNoteSigns } from "./acts";
import { Button } from "../../components/Button";
import { useShell } from "../../components/shell";
import { Slip } from "../../components/Slip";
import { link } from "../../components/classes";
import { CHECK_WORDS, SIGN_WORDS, WALK } from "./caseWords";
import { CaliperForm } from "./CaliperForm";
import { SeenChoice } from "./SeenChoice";
import { Alert } from "../../components/Alert";

interface Props {
  page: CaseFacts;
  /** Where the walk begins; null: at the first check not done yet. */
  from: CheckId | null;
  onClose: () => void;
}

type Answers = Partial<Record<SignId, boolean | null>>;

/** A walk through the quick checks: what to do, what to look and listen for, and what was found. */
export function ChecksSlip({ page, from, onClose }: Props) {
  const note = useNoteSigns();
  const { notify } = useShell();
  const known = Object.fromEntries(
    page.observations.map((observation) => [observation.sign, observation.seen]),
  ) as Answers;
  const signsOf = (checkId: CheckId): readonly SignId[] =>
    page.checks.find((one) => one.check === checkId)?.signs ?? [];
  const [check, setCheck] = useState<CheckId>(
    from ?? WALK.find((kind) => signsOf(kind).some((sign) => !(sign in known))) ?? "ask",
  );
  const [answers, setAnswers] = useState<Answers>({});
  const words = CHECK_WORDS[check];
  const at = WALK.indexOf(check);
  const next = WALK[at + 1];
  const changed = Object.entries(answers) as [SignId, boolean | null][];

  function keep(then: () => void) {
    if (changed.length === 0) {
      then();
      return;
    }
    note.mutate(
      { id: page.case.id, signs: changed.map(([sign, seen]) => ({ sign, seen })) },
      {
        onSuccess: ({ undo }) => {
          setAnswers({});
          notify({ text: `Saved: ${words.name.toLowerCase()}.`, undo });
          then();
        },
      },
    );
  }

  return (
    <Slip
      wide
      title={words.name}
      onClose={onClose}
      onSubmit={() => {
        keep(onClose);
      }}
    >
      <p>{words.how}</p>
      {words.caution && <p className="border-l-4 border-heat pl-2 text-sm">{words.caution}</p>}
      {check === "caliper" && <CaliperForm page={page} />}
      {check === "after_drying" && (
        <p className="text-sm">
          <Link className={link} to={`/plan?spool=${page.case.spool}`}>
            Plan the drying run
          </Link>
          ; come back here with the after print.
        </p>
      )}
      <ul className="flex flex-col gap-3">
        {signsOf(check)
          .filter((sign) => sign !== "caliper")
          .map((sign) => (
            <li key={sign} className="bg-paper p-3">
              <strong>{SIGN_WORDS[sign].name}</strong>
              <p className="mb-2 text-sm text-muted">{SIGN_WORDS[sign].look}</p>
              <SeenChoice
                label={SIGN_WORDS[sign].name}
                value={answers[sign] === undefined ? (known[sign] ?? null) : answers[sign]}
                seen={SIGN_WORDS[sign].seen}
                unseen={SIGN_WORDS[sign].unseen}
                onChoose={(seen) => {
                  setAnswers({ ...answers, [sign]: seen });
                }}
              />
            </li>
          ))}
      </ul>
      {note.error && <Alert>{note.error.message}</Alert>}
      <div className="flex flex-wrap items-center gap-3">
        <Button type="submit" kind="primary" disabled={note.isPending}>
          {changed.length > 0 ? "Save" : "Done"}
        </Button>
        {next && (
          <Button
            kind="quiet"
            disabled={note.isPending}
            onClick={() => {
              keep(() => {
                setCheck(next);
              });
            }}
          >
            Next: {CHECK_WORDS[next].name.toLowerCase()}
          </Button>
        )}
        <span className="text-sm text-muted">
          {at + 1} of {WALK.length}
        </span>
      </div>
    </Slip>
  );
}
