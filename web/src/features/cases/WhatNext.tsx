import { Button as Plain } from "@headlessui/react";
import { Button } from "../../components/Button";
import { Link } from "react-router";
import type { CaseFacts, CheckId, NextCheck } from "../../api/client";
import { fixed } from "../../domain/numbers";
import { CHECK_WORDS, inTen } from "./caseWords";

const SHOWN = 4;
const LEAST_BITS = 0.005;

interface Props {
  page: CaseFacts;
  onCheck: (check: CheckId) => void;
}

/** What would settle it: checks not yet done, by what they tell for a minute of one's own time. */
export function WhatNext({ page, onCheck }: Props) {
  const worth = page.next.filter((check) => check.bits >= LEAST_BITS);
  return (
    <section aria-label="What would settle it">
      <h2>What would settle it</h2>
      <p className="mb-2 text-sm text-muted">
        The most telling check for each minute of your time comes first.
      </p>
      {worth.length === 0 && <p>No check on the list would tell more. Close the case.</p>}
      <ol className="flex flex-col gap-1.5">
        {worth.slice(0, SHOWN).map((check) => (
          <li key={check.check}>
            <Check check={check} page={page} onCheck={onCheck} />
          </li>
        ))}
      </ol>
      {worth.length > SHOWN && (
        <p className="mt-1 text-sm text-muted">
          Also:{" "}
          {worth.slice(SHOWN).map((check, index) => (
            <span key={check.check}>
              {index > 0 && ", "}
              <Button
                kind="link"
                onClick={() => {
                  onCheck(check.check);
                }}
              >
                {CHECK_WORDS[check.check].name.toLowerCase()}
              </Button>
            </span>
          ))}
        </p>
      )}
    </section>
  );
}

const box =
  "block w-full border-2 border-transparent bg-paper px-3 py-2 text-left data-hover:border-ink hover:border-ink";

function Check({ check, page, onCheck }: { check: NextCheck } & Props) {
  const inside = (
    <>
      <strong className="block">{CHECK_WORDS[check.check].name}</strong>
      <span className="block text-sm text-muted">
        <span className="num">{fixed(check.minutes, 0)}</span> min
        {check.wait_h > 0 && (
          <>
            {" "}
            of you, <span className="num">{fixed(check.wait_h, 0)}</span> h in all
          </>
        )}{" "}
        · to {inTen(check.after_for)}, or {inTen(check.after_against)}
      </span>
    </>
  );
  if (check.check === "weigh")
    return (
      <Link to={`/plan?spool=${page.case.spool}`} className={box}>
        {inside}
      </Link>
    );
  return (
    <Plain
      className={box}
      onClick={() => {
        onCheck(check.check);
      }}
    >
      {inside}
    </Plain>
  );
}
