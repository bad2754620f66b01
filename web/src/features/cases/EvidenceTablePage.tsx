import { Button as Plain } from "@headlessui/react";
import { useQuery } from "@tanstack/react-query";
import { Fragment, useState } from "react";
import { Link, useSearchParams } from "react-router";
import type { CauseId, EvidenceTable, SignId } from "../../api/client";
import { useSetChance } from "./acts";
import { evidenceTable } from "./queries";
import { materials as materialsQuery } from "../materials/queries";
import { fixed } from "../../domain/numbers";
import { Button } from "../../components/Button";
import { useShell } from "../../components/shell";
import { PageHeading } from "../../components/PageHeading";
import { CommittedNumber } from "../../components/CommittedNumber";
import { Picker } from "../../components/Picker";
import { Skeleton } from "../../components/Skeleton";
import { Trouble } from "../../components/Trouble";
import { link } from "../../components/classes";
import { CAUSE_WORDS, SIGN_WORDS } from "./caseWords";

type Row = EvidenceTable["signs"][number];

/** The evidence table: how often a sign is seen under each cause, why, and the person's own numbers in it. */
export function EvidenceTablePage() {
  const [params, setParams] = useSearchParams();
  const { data: materials = [] } = useQuery(materialsQuery);
  const material = params.get("material") ?? "petg";
  const { data: table, error, refetch } = useQuery(evidenceTable(material));
  const [open, setOpen] = useState<string | null>(null);
  if (error && !table) return <Trouble error={error} onRetry={refetch} />;
  if (!table) return <Skeleton page="Evidence table" rows={8} height="h-9" />;
  const causes = table.signs[0]?.p.map((share) => share.cause) ?? [];
  const own = table.signs.reduce((sum, sign) => sum + sign.own.length, table.own_rates.length);
  return (
    <div className="max-w-5xl">
      <div className="mb-3 flex flex-wrap items-end justify-between gap-3">
        <div>
          <PageHeading page="Evidence table">
            {own === 0
              ? "Every number here is an estimate."
              : `${own} of these numbers ${own === 1 ? "is" : "are"} yours.`}
          </PageHeading>
          <p className="text-sm text-muted">
            How often each sign shows in a bad print, by the print’s main cause. {table.source}{" "}
            <Link className={link} to="/cases">
              Cases
            </Link>
          </p>
        </div>
        <div className="w-64">
          <Picker
            label="For a spool of"
            value={material}
            options={materials.map((material) => ({ value: material.id, name: material.short }))}
            onChoose={(id) => {
              setParams({ material: id }, { replace: true });
            }}
          />
        </div>
      </div>
      <div className="overflow-x-auto">
        <table className="w-full min-w-[42rem] bg-paper text-sm">
          <thead>
            <tr className="border-b-2 border-ink text-left align-bottom">
              <th scope="col" className="px-3 py-1.5">
                seen, of 100
              </th>
              {causes.map((cause) => (
                <th key={cause} scope="col" className="px-2 py-1.5 text-right">
                  {CAUSE_WORDS[cause]}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {table.signs.map((row) => (
              <SignRow
                key={`${material} ${row.id}`}
                row={row}
                open={open === row.id}
                onOpen={() => {
                  setOpen(open === row.id ? null : row.id);
                }}
              />
            ))}
            <tr className="border-t-2 border-ink">
              <th scope="row" className="text-left font-normal">
                <Plain
                  className="w-full px-3 py-1.5 text-left data-hover:underline"
                  aria-expanded={open === RATES}
                  onClick={() => {
                    setOpen(open === RATES ? null : RATES);
                  }}
                >
                  Shares of the other causes, before anything is seen
                </Plain>
              </th>
              {causes.map((cause) => (
                <td key={cause} className="px-2 text-right num">
                  {cause === "water"
                    ? "by the spool"
                    : told(table.base_rates.find((base_rate) => base_rate.cause === cause)?.p)}
                </td>
              ))}
            </tr>
            {open === RATES && (
              <tr>
                <td colSpan={causes.length + 1} className="px-3 py-3">
                  <p className="mb-2 max-w-prose">
                    How often each other cause is to blame for a bad print that water did not cause. Only the
                    ratios count.
                  </p>
                  <Editor
                    sign=""
                    name="Shares"
                    p={table.base_rates}
                    builtIn={table.built_in_rates}
                    own={table.own_rates}
                  />
                </td>
              </tr>
            )}
          </tbody>
        </table>
      </div>
    </div>
  );
}

const RATES = "rates";

const told = (p: number | undefined): string =>
  p === undefined ? "" : fixed(100 * p, p < 0.0995 && (p * 100) % 1 ? 1 : 0);

function SignRow({ row, open, onOpen }: { row: Row; open: boolean; onOpen: () => void }) {
  return (
    <Fragment>
      <tr className="border-b border-line">
        <th scope="row" className="text-left font-normal">
          <Plain
            className="w-full px-3 py-1.5 text-left data-hover:underline"
            aria-expanded={open}
            onClick={onOpen}
          >
            {SIGN_WORDS[row.id].name}
          </Plain>
        </th>
        {row.p.map((share) => (
          <td
            key={share.cause}
            className={`px-2 text-right num ${row.own.includes(share.cause) ? "font-bold underline" : ""}`}
          >
            {told(share.p)}
          </td>
        ))}
      </tr>
      {open && (
        <tr className="border-b border-line">
          <td colSpan={row.p.length + 1} className="px-3 py-3">
            <p className="mb-2 max-w-prose">
              {row.material_why || row.why}
              {row.like && " It tends to come with related signs, so next to a stronger one it counts half."}
            </p>
            <Editor
              sign={row.id}
              name={SIGN_WORDS[row.id].name}
              p={row.p}
              builtIn={row.built_in}
              own={row.own}
            />
          </td>
        </tr>
      )}
    </Fragment>
  );
}

interface EditorProps {
  sign: SignId | "";
  name: string;
  p: Row["p"];
  builtIn: Row["p"];
  own: readonly string[];
}

/** The numbers of a row, each to be changed and gone back from. */
function Editor({ sign, name, p, builtIn, own }: EditorProps) {
  const set = useSetChance();
  const { notify } = useShell();
  const [asked, setAsked] = useState<CauseId | null>(null);
  function write(cause: CauseId, p_pct: string | null) {
    setAsked(cause);
    set.mutate(
      { sign, cause, p_pct },
      {
        onSuccess: ({ undo }) => {
          const now = p_pct === null ? "back to the built-in" : `${p_pct} of 100`;
          notify({ text: `${name}, ${CAUSE_WORDS[cause]}: ${now}.`, undo });
        },
      },
    );
  }
  return (
    <div className="grid gap-2 sm:grid-cols-6">
      {p.map((share) => (
        <div key={share.cause}>
          <CommittedNumber
            label={CAUSE_WORDS[share.cause]}
            unit="of 100"
            shown={told(share.p)}
            error={asked === share.cause ? set.error?.message : undefined}
            onCommit={(text) => {
              write(share.cause, text);
            }}
          />
          {own.includes(share.cause) && (
            <Button
              kind="link"
              className="text-xs"
              onClick={() => {
                write(share.cause, null);
              }}
            >
              back to {told(builtIn.find((other) => other.cause === share.cause)?.p)}
            </Button>
          )}
        </div>
      ))}
    </div>
  );
}
