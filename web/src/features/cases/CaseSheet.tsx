import { useQuery } from "@tanstack/react-query";
import { type RefObject, useRef, useState } from "react";
import { Link, useParams } from "react-router";
import type { CaseFacts } from "../../api/client";
import { casePage } from "./queries";
import { percent, plusMinus } from "../../domain/numbers";
import { when } from "../../domain/times";
import { Button } from "../../components/Button";
import { PageHeading } from "../../components/PageHeading";
import { Skeleton } from "../../components/Skeleton";
import { Trouble } from "../../components/Trouble";
import { standingLink } from "../../components/classes";
import {
  bitsWords,
  caseSentence,
  CAUSE_WORDS,
  chances,
  inTen,
  isSign,
  nextSteps,
  restsOn,
  SIGN_WORDS,
  startWords,
  tableRange,
} from "./caseWords";
import { thresholdLine } from "../materials/thresholdWords";
import { changeWords, sameFileWords } from "./printWords";
import { RatingsTable } from "./RatingsTable";
import { saveAsFile } from "./saveAsFile";
import { Alert } from "../../components/Alert";
import { latestPhoto, photoAddress } from "./photos";

/** The verdict on one page: to print, or to hand on as one file. */
export function CaseSheet() {
  const id = Number(useParams().id);
  const { data: page, error, refetch } = useQuery(casePage(id));
  const sheet = useRef<HTMLElement>(null);
  if (error && !page) return <Trouble error={error} onRetry={refetch} />;
  if (!page) return <Skeleton page="Case" rows={5} height="h-16" />;
  return (
    <div className="mx-auto max-w-3xl">
      <SheetActs page={page} sheet={sheet} />
      <article ref={sheet} className="bg-paper p-6 print:p-0">
        <PageHeading page={page.case.title}>{caseSentence(page.evidence, page.verdict)}</PageHeading>
        <p className="mb-3 text-muted">
          {page.case.title} · {page.case.spool_name}, {page.material_short} · printed{" "}
          {when(new Date(page.case.printed_at), new Date())}
        </p>
        <Verdict page={page} />
        <Evidence page={page} />
        <Photos page={page} />
        <RatingsTable page={page} />
        {page.strengths.map((strength) => (
          <p key={`${strength.method} ${strength.pose}`} className="text-sm">
            Strength, {strength.method}, printed {strength.pose}: {changeWords(strength.change)}
          </p>
        ))}
        <p className="mt-3 text-sm text-muted">
          {page.before && `${sameFileWords(page)} `}
          {tableRange(page.evidence)} {restsOn(page.evidence)} One print is one sample.
        </p>
      </article>
    </div>
  );
}

function SheetActs({ page, sheet }: { page: CaseFacts; sheet: RefObject<HTMLElement | null> }) {
  const [failed, setFailed] = useState<string>();
  return (
    <div className="mb-3 flex flex-wrap items-center gap-2 print:hidden">
      <Button
        kind="primary"
        onClick={() => {
          if (!sheet.current) return;
          saveAsFile(sheet.current, page.case.title).catch((reason: unknown) => {
            setFailed(reason instanceof Error ? reason.message : "The file could not be made.");
          });
        }}
      >
        Save as one file
      </Button>
      <Button
        kind="quiet"
        onClick={() => {
          window.print();
        }}
      >
        Print
      </Button>
      <Link className={standingLink} to={`/cases/${page.case.id}`}>
        back to the case
      </Link>
      {failed !== undefined && <Alert>{failed}</Alert>}
    </div>
  );
}

function Verdict({ page }: { page: CaseFacts }) {
  const { verdict } = page;
  if (!verdict)
    return (
      <p className="mb-3">The case is still open: {chances(page.evidence.p_water)} by the evidence so far.</p>
    );
  const cause = nextSteps(verdict.cause);
  return (
    <p className="mb-3">
      {verdict.note} {cause} By the evidence, {chances(verdict.p_water)} that it was the water.{" "}
      {thresholdLine(page.material_short, verdict)}
    </p>
  );
}

function Evidence({ page }: { page: CaseFacts }) {
  const { evidence } = page;
  return (
    <table className="mb-4 w-full text-sm">
      <caption className="text-left font-bold">
        The evidence as it stands, in bits for (+) and against (−) the water
      </caption>
      <tbody>
        <tr className="border-b border-line">
          <th scope="row" className="py-1 text-left font-normal">
            Where it started: {startWords(evidence, page.material_short)}
            {!evidence.moisture_assumed &&
              `, at ${plusMinus(evidence.moisture_pct, evidence.plus_minus_pct, 2)} %`}
            {evidence.trouble_pct !== null && ` against ${percent(evidence.trouble_pct)} %`}
          </th>
          <td />
          <td className="text-right num">{bitsWords(evidence.start_bits)}</td>
          <td className="w-36 text-right num whitespace-nowrap text-muted">{inTen(evidence.start_p)}</td>
        </tr>
        {evidence.weights.map((weight) => {
          const words = isSign(weight.sign) ? SIGN_WORDS[weight.sign] : null;
          return (
            <tr key={weight.sign || weight.text} className="border-b border-line">
              <th scope="row" className="py-1 text-left font-normal">
                {words?.name ?? weight.text}
              </th>
              <td className="pr-3">{words ? (weight.seen ? words.seen : words.unseen) : "own"}</td>
              <td className="text-right num">{bitsWords(weight.bits)}</td>
              <td className="text-right num whitespace-nowrap text-muted">{inTen(weight.p_after)}</td>
            </tr>
          );
        })}
        <tr>
          <th scope="row" colSpan={4} className="py-1 text-left">
            {evidence.causes
              .filter((cause) => cause.p >= 0.005)
              .map((cause) => `${CAUSE_WORDS[cause.cause]} ${inTen(cause.p)}`)
              .join(" · ")}
          </th>
        </tr>
      </tbody>
    </table>
  );
}

function Photos({ page }: { page: CaseFacts }) {
  const shown = (["before", "after"] as const).flatMap((side) => {
    const photo = latestPhoto(page, side);
    return photo ? [{ side, photo }] : [];
  });
  if (shown.length === 0) return null;
  return (
    <div className="mb-4 grid grid-cols-2 gap-2">
      {shown.map(({ side, photo }) => (
        <figure key={side}>
          <img
            src={photoAddress(photo, "whole")}
            alt={`The print ${side} drying: ${photo.name}`}
            className="w-full"
          />
          <figcaption className="text-sm text-muted">{side} drying</figcaption>
        </figure>
      ))}
    </div>
  );
}
