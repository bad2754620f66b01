import { fileName } from "../../domain/tableFile";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Link, useParams } from "react-router";
import type { CaseFacts, CheckId } from "../../api/client";
import { useReopenCase } from "./acts";
import { casePage } from "./queries";
import { EvidenceChart } from "./EvidenceChart";
import { percent, plusMinus } from "../../domain/numbers";
import { when } from "../../domain/times";
import { Button } from "../../components/Button";
import { useShell } from "../../components/shell";
import { PageHeading } from "../../components/PageHeading";
import { Skeleton } from "../../components/Skeleton";
import { Trouble } from "../../components/Trouble";
import { link, primary } from "../../components/classes";
import { caseSentence, isSign, nextSteps, restsOn, SIGN_WORDS, startWords, tableRange } from "./caseWords";
import { thresholdLine } from "../materials/thresholdWords";
import { AfterDrying } from "./AfterDrying";
import { BeforeAfter } from "./BeforeAfter";
import { CaseForm } from "./CaseForm";
import { ChecksSlip } from "./ChecksSlip";
import { OwnSlip } from "./OwnSlip";
import { VerdictSlip } from "./VerdictSlip";
import { OwnDetail, SignDetail, StartDetail } from "./WeightDetail";
import { WhatNext } from "./WhatNext";
import { latestPhoto, photoAddress } from "./photos";

type Open = { slip: "checks"; from: CheckId | null } | { slip: "own" | "verdict" | "form" } | null;

/** Was it the water? One bad print: the weights that lean, what would settle it, before and after, the verdict. */
export function CasePage() {
  const id = Number(useParams().id);
  const { data: page, error, refetch } = useQuery(casePage(id));
  const { lookAt } = useShell();
  const spool = page?.case.spool;
  useEffect(() => {
    lookAt(spool);
    return () => {
      lookAt(undefined);
    };
  }, [lookAt, spool]);
  if (error && !page) return <Trouble error={error} onRetry={refetch} />;
  if (!page) return <Skeleton page="Case" rows={6} height="h-12" />;
  return <CaseView key={id} page={page} />;
}

function CaseView({ page }: { page: CaseFacts }) {
  const [open, setOpen] = useState<Open>(null);
  const [row, setRow] = useState<number | null>(null);
  const { evidence, verdict } = page;
  const rests = restsOn(evidence);
  const close = () => {
    setOpen(null);
  };
  return (
    <div className="grid gap-x-6 gap-y-8 lane:grid-cols-[minmax(0,1fr)_21rem]">
      <section className="min-w-0">
        <PageHeading page={page.case.title}>{caseSentence(evidence, verdict)}</PageHeading>
        <CaseLine
          page={page}
          onChange={() => {
            setOpen({ slip: "form" });
          }}
        />
        {verdict && <VerdictNote page={page} />}
        <EvidenceChart
          evidence={evidence}
          wetness={evidence.trouble_pct === null ? null : evidence.moisture_pct / evidence.trouble_pct}
          rows={leanRows(page)}
          open={row}
          onOpen={setRow}
        />
        <p className="mt-1 text-sm text-muted">
          Each bar starts where the last one ended, in bits: one bit doubles the odds. {rests && `${rests} `}
          {evidence.weights.length > 0 && `${tableRange(evidence)} `}
          <Link className={link} to={`/cases/table?material=${page.case.material}`}>
            the table
          </Link>{" "}
          ·{" "}
          <a
            className={link}
            href={`/api/cases/${page.case.id}/`}
            download={fileName(page.case.title, "json")}
          >
            save the case as a file
          </a>
        </p>
      </section>
      <aside className="flex flex-col gap-4">
        <Glance page={page} />
        {page.case.is_open ? (
          <>
            <AfterDrying
              page={page}
              onPrinted={() => {
                setOpen({ slip: "checks", from: "after_drying" });
              }}
            />
            <WhatNext
              page={page}
              onCheck={(from) => {
                setOpen({ slip: "checks", from });
              }}
            />
            <div className="flex flex-wrap gap-2">
              <Link to={`/plan?spool=${page.case.spool}`} className={primary}>
                Plan the drying run <kbd>P</kbd>
              </Link>
              <Button
                kind="quiet"
                onClick={() => {
                  setOpen({ slip: "verdict" });
                }}
              >
                Close the case
              </Button>
            </div>
            <Button
              kind="link"
              className="self-start text-sm"
              onClick={() => {
                setOpen({ slip: "own" });
              }}
            >
              something else that you saw
            </Button>
          </>
        ) : (
          <ClosedActs page={page} />
        )}
      </aside>
      <BeforeAfter page={page} />
      {open?.slip === "checks" && <ChecksSlip page={page} from={open.from} onClose={close} />}
      {open?.slip === "own" && <OwnSlip page={page} onClose={close} />}
      {open?.slip === "verdict" && <VerdictSlip page={page} onClose={close} />}
      {open?.slip === "form" && <CaseForm page={page} onClose={close} />}
    </div>
  );
}

function leanRows(page: CaseFacts) {
  const { evidence } = page;
  return [
    {
      name: "Where it started",
      told: startWords(evidence, page.material_short),
      more: <StartDetail page={page} />,
    },
    ...evidence.weights.map((weight) => {
      if (!isSign(weight.sign)) {
        return {
          name: weight.text,
          told: "your own",
          more: <OwnDetail page={page} weight={weight} />,
        };
      }
      const words = SIGN_WORDS[weight.sign];
      return {
        name: words.name,
        told: `${weight.seen ? words.seen : words.unseen}${weight.share < 1 ? " · counts half next to a related sign" : ""}`,
        more: <SignDetail page={page} weight={weight} sign={weight.sign} />,
      };
    }),
  ];
}

function CaseLine({ page, onChange }: { page: CaseFacts; onChange: () => void }) {
  const { evidence } = page;
  const moisture = `${plusMinus(evidence.moisture_pct, evidence.plus_minus_pct, 2)} %`;
  return (
    <p className="mt-0.5 mb-3 text-muted">
      {page.case.title} · <Link to={`/spools/${page.case.spool}`}>{page.case.spool_name}</Link>,{" "}
      {page.material_short} · printed {when(new Date(page.case.printed_at), new Date())},{" "}
      {evidence.moisture_assumed
        ? `moisture not known, usually ${moisture}`
        : `${moisture} in the turns that were printed, by its history`}
      {evidence.trouble_pct !== null && ` (trouble from ${percent(evidence.trouble_pct)} %)`} ·{" "}
      <Button kind="link" onClick={onChange}>
        change
      </Button>
    </p>
  );
}

const afterWords = (page: CaseFacts): string => (page.case.is_open ? ": not printed yet" : ": not printed");

/** Both prints at a glance, and the way to the comparison. */
function Glance({ page }: { page: CaseFacts }) {
  const made = page.before?.file?.name ?? page.before?.name;
  return (
    <a href="#compare" className="block">
      <div className="grid grid-cols-2 gap-0.5">
        {(["before", "after"] as const).map((side) => {
          const photo = latestPhoto(page, side);
          return (
            <figure key={side} className="relative h-36 bg-line">
              {photo && (
                <img
                  src={photoAddress(photo, "small")}
                  alt={`The print ${side} drying`}
                  className="size-full object-cover"
                />
              )}
              <figcaption className="absolute bottom-1 left-1 bg-paper px-1 text-xs">
                {side}
                {!photo && (side === "after" && !page.after ? afterWords(page) : ": no photo")}
              </figcaption>
            </figure>
          );
        })}
      </div>
      <p className="mt-1 text-sm text-muted">
        {made ? `${made} · ` : ""}
        <span className="underline underline-offset-2">compare, rate, strength</span>
      </p>
    </a>
  );
}

/** What came of it: the note, the next steps where it was something else, and how the thresholds moved. */
function VerdictNote({ page }: { page: CaseFacts }) {
  const { verdict } = page;
  if (!verdict) return null;
  const cause = nextSteps(verdict.cause);
  const marks = thresholdLine(page.material_short, verdict);
  return (
    <div className="mb-3 border-l-4 border-ink bg-paper px-3 py-2">
      {verdict.note && <p>{verdict.note}</p>}
      {cause && <p>{cause}</p>}
      <p className="text-sm text-muted">
        Closed {when(new Date(verdict.at), new Date())}; the evidence is shown as it stood then. {marks}
      </p>
    </div>
  );
}

function ClosedActs({ page }: { page: CaseFacts }) {
  const reopen = useReopenCase();
  const { notify } = useShell();
  return (
    <div className="flex flex-col items-start gap-3">
      <div className="flex flex-wrap gap-2">
        <Link to={`/cases/${page.case.id}/sheet`} className={primary}>
          The verdict on one page
        </Link>
        <Button
          kind="quiet"
          disabled={reopen.isPending}
          onClick={() => {
            reopen.mutate(page.case.id, {
              onSuccess: ({ undo }) => {
                notify({ text: `${page.case.title} is open again.`, undo });
              },
            });
          }}
        >
          Open it again
        </Button>
      </div>
      {page.verdicts.length > 1 && (
        <p className="text-sm text-muted">Judged {page.verdicts.length} times; the last one counts.</p>
      )}
    </div>
  );
}
