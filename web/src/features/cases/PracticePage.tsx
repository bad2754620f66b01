import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import type { Practice, PracticeRound } from "../../api/client";
import { useAnswerPractice, useBeginPractice, usePracticeCheck } from "./acts";
import { practice as practiceQuery } from "./queries";
import { materials as materialsQuery } from "../materials/queries";
import { CalibrationChart } from "../../charts/CalibrationChart";
import { fixed, percent, plusMinus } from "../../domain/numbers";
import { Button } from "../../components/Button";
import { PageHeading } from "../../components/PageHeading";
import { Skeleton } from "../../components/Skeleton";
import { Trouble } from "../../components/Trouble";
import { link } from "../../components/classes";
import { CAUSE_STEPS, CAUSE_WORDS, CHECK_WORDS, inTen, isSign, SIGN_WORDS } from "./caseWords";
import { practicePart } from "./practiceWords";
import { Alert } from "../../components/Alert";

/** Simulated cases with a hidden truth: choose checks within a few minutes, state a chance, see how it was. */
export function PracticePage() {
  const { data, error, refetch } = useQuery(practiceQuery);
  // Held here, as the round that is answered leaves the screen with its answer.
  const answer = useAnswerPractice();
  if (error && !data) return <Trouble error={error} onRetry={refetch} />;
  if (!data) return <Skeleton page="Practice" rows={4} height="h-16" />;
  const round = data.open ?? answer.data;
  return (
    <div className="grid gap-6 lane:grid-cols-[minmax(0,1fr)_22rem]">
      <section className="min-w-0">
        {round ? (
          <Round
            key={round.id}
            round={round}
            budgets={data.budgets_min}
            pending={answer.isPending}
            error={answer.error}
            onAnswer={(chance) => {
              answer.mutate({ id: round.id, chance_pct: String(chance) });
            }}
          />
        ) : (
          <>
            <PageHeading page="Practice">How good is your judgement?</PageHeading>
            <p className="mt-1 mb-4 max-w-prose">
              A bad print whose cause was drawn from the evidence table. Choose your checks within the minutes
              you give yourself, say how sure you are that it was the water, then see the cause.
            </p>
            <Begin budgets={data.budgets_min} />
          </>
        )}
      </section>
      <Sum practice={data} />
    </div>
  );
}

function Begin({ budgets }: { budgets: number[] }) {
  const begin = useBeginPractice();
  return (
    <div className="flex flex-wrap items-center gap-2">
      {budgets.map((minutes) => (
        <Button
          key={minutes}
          kind="primary"
          disabled={begin.isPending}
          onClick={() => {
            begin.mutate(minutes);
          }}
        >
          A case in {fixed(minutes, 0)} minutes
        </Button>
      ))}
      {begin.error && <Alert>{begin.error.message}</Alert>}
    </div>
  );
}

interface AnswerProps {
  pending: boolean;
  error: Error | null;
  onAnswer: (chance: number) => void;
}

interface RoundProps extends AnswerProps {
  round: PracticeRound;
  budgets: number[];
}

function Round({ round, budgets, ...answer }: RoundProps) {
  const { data: materials = [] } = useQuery(materialsQuery);
  const name = materials.find((material) => material.id === round.material)?.short ?? round.material;
  const part = practicePart(round.material, round.id);
  const moisture = `${plusMinus(round.moisture_pct, round.plus_minus_pct, 2)} %`;
  return (
    <>
      <PageHeading page="Practice">
        {round.truth ? truthSentence(round.truth) : `Was it the water? A ${part} came out badly.`}
      </PageHeading>
      <p className="mt-1 mb-3 text-muted">
        {part}, {name} ·{" "}
        {round.moisture_assumed ? `moisture not known, usually ${moisture}` : `${moisture} by its history`}
        {round.trouble_pct !== null && ` · trouble from ${percent(round.trouble_pct)} %`}
        {!round.truth && (
          <>
            {" "}
            · <strong className="num text-ink">{fixed(round.left_min, 0)}</strong> of{" "}
            <span className="num">{fixed(round.budget_min, 0)}</span> minutes left
          </>
        )}
      </p>
      {round.truth && (
        <div className="mb-4 border-l-4 border-ink bg-paper px-3 py-2">
          <p>
            You said {inTen(round.truth.stated)}; the table, from the same signs,{" "}
            {inTen(round.truth.table_said)}.
          </p>
          <p className="text-sm text-muted">{CAUSE_STEPS[round.truth.cause]}</p>
        </div>
      )}
      <Shown round={round} />
      {round.truth ? (
        <div className="mt-4">
          <Begin budgets={budgets} />
        </div>
      ) : (
        <>
          <Checks round={round} />
          <Answer {...answer} />
        </>
      )}
    </>
  );
}

function truthSentence(truth: NonNullable<PracticeRound["truth"]>): string {
  return truth.was_water ? "It was the water." : `It was not the water: ${CAUSE_WORDS[truth.cause]}.`;
}

function Shown({ round }: { round: PracticeRound }) {
  if (round.shown.length === 0) return <p className="mb-3">Nothing looked at yet.</p>;
  return (
    <ul aria-label="What was seen" className="mb-3 grid gap-x-6 bg-paper px-3 py-2 sm:grid-cols-2">
      {round.shown.map((shown) => {
        const words = isSign(shown.sign)
          ? SIGN_WORDS[shown.sign]
          : { name: "By the scale, above its trouble threshold", seen: "it was", unseen: "it was not" };
        return (
          <li key={shown.sign} className="flex justify-between gap-3 border-b border-line py-1 text-sm">
            <span>{words.name}</span>
            <span className={shown.seen ? "font-bold" : "text-muted"}>
              {shown.seen ? words.seen : words.unseen}
            </span>
          </li>
        );
      })}
    </ul>
  );
}

function Checks({ round }: { round: PracticeRound }) {
  const check = usePracticeCheck();
  return (
    <section aria-label="Checks" className="mb-4">
      <h2 className="mb-1">Check</h2>
      {round.checks_left.length === 0 && <p className="text-sm">No minutes are left for another check.</p>}
      <div className="flex flex-wrap gap-2">
        {round.checks_left.map((shown) => (
          <Button
            key={shown.id}
            kind="quiet"
            className="text-sm"
            disabled={check.isPending}
            onClick={() => {
              check.mutate({ id: round.id, check: shown.id });
            }}
          >
            {CHECK_WORDS[shown.id].name}{" "}
            <span className="num font-normal">{fixed(shown.minutes, 0)} min</span>
          </Button>
        ))}
      </div>
      {check.error && <Alert>{check.error.message}</Alert>}
    </section>
  );
}

function Answer({ pending, error, onAnswer }: AnswerProps) {
  const [chance, setChance] = useState(50);
  return (
    <form
      className="bg-paper p-3"
      onSubmit={(event) => {
        event.preventDefault();
        onAnswer(chance);
      }}
    >
      <label className="block">
        <span className="font-bold">
          It was the water: <span className="num">{chance}</span> in 100
        </span>
        <input
          type="range"
          min={0}
          max={100}
          value={chance}
          className="mt-1 w-full accent-ink"
          onChange={(event) => {
            setChance(Number(event.target.value));
          }}
        />
        <span className="flex justify-between text-sm text-muted">
          <span>surely something else</span>
          <span>surely the water</span>
        </span>
      </label>
      <Button type="submit" kind="primary" className="mt-2" disabled={pending}>
        That is my answer
      </Button>
      {error && <Alert>{error.message}</Alert>}
    </form>
  );
}

function Sum({ practice }: { practice: Practice }) {
  const { sum } = practice;
  return (
    <aside>
      <h2>What you said against what happened</h2>
      {sum.rounds === 0 ? (
        <p className="text-sm text-muted">
          After a few rounds this shows whether your “nine in ten” comes true nine times in ten.
        </p>
      ) : (
        <>
          <CalibrationChart tenths={sum.tenths} />
          <p className="text-sm text-muted">
            {sum.rounds} {sum.rounds === 1 ? "round" : "rounds"}. Brier score, 0 is perfect: you{" "}
            <span className="num text-ink">{fixed(sum.brier_you ?? 0, 2)}</span>, the table{" "}
            <span className="num text-ink">{fixed(sum.brier_table ?? 0, 2)}</span>; always saying one half{" "}
            <span className="num">0.25</span>.
          </p>
        </>
      )}
      <p className="mt-3 text-sm">
        <Link className={link} to="/cases">
          Real cases
        </Link>
      </p>
    </aside>
  );
}
