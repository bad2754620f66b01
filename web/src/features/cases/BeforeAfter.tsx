import { useState } from "react";
import type { CaseFacts, Photo, Side } from "../../api/client";
import { useRemovePhoto } from "./acts";
import { fixed } from "../../domain/numbers";
import { mass, temp } from "../../domain/quantities";
import { when } from "../../domain/times";
import { Button } from "../../components/Button";
import { Choice } from "../../components/Choice";
import { RemoveButton } from "../../components/RemoveButton";
import { changeWords, differenceWords, sameFileWords } from "./printWords";
import { Compare, type View } from "./Compare";
import { latestPhoto, photoAddress } from "./photos";
import { PhotoPick } from "./PhotoPick";
import { RatingsSlip } from "./RatingsSlip";
import { RatingsTable } from "./RatingsTable";
import { StrengthSlip } from "./StrengthSlip";

const VIEWS = [
  { value: "divider", name: "divider" },
  { value: "side", name: "side by side" },
] as const;

/** The print before drying and the one after: photos in one frame, what was the same, ratings and strengths. */
export function BeforeAfter({ page }: { page: CaseFacts }) {
  const [view, setView] = useState<View>("divider");
  const [grid, setGrid] = useState(false);
  const [open, setOpen] = useState<"rate" | "blind" | "strength" | null>(null);
  const before = latestPhoto(page, "before");
  const after = latestPhoto(page, "after");
  const close = () => {
    setOpen(null);
  };
  return (
    <section id="compare" aria-label="Before and after" className="lane:col-span-2">
      <div className="mb-2 flex flex-wrap items-baseline gap-x-4 gap-y-1">
        <h2>Before and after</h2>
        <p className="text-sm text-muted">{sameFileWords(page)}</p>
      </div>
      <div className="grid gap-6 lane:grid-cols-[minmax(0,1fr)_24rem]">
        <div className="max-w-2xl min-w-0">
          {before && after ? (
            <>
              <div className="mb-2 flex flex-wrap items-center gap-3 text-sm">
                <Choice label="" value={view} options={VIEWS} onChoose={setView} across />
                <Button
                  aria-pressed={grid}
                  kind="quiet"
                  className="px-2.5 py-1 text-sm aria-pressed:bg-ink aria-pressed:text-paper"
                  onClick={() => {
                    setGrid(!grid);
                  }}
                >
                  grid over
                </Button>
              </div>
              <Compare before={before} after={after} view={view} grid={grid} />
            </>
          ) : (
            <div className="grid grid-cols-2 gap-2">
              <OnePhoto side="before" photo={before} />
              <OnePhoto side="after" photo={after} />
            </div>
          )}
          <PhotoActs page={page} />
        </div>
        <div className="flex min-w-0 flex-col gap-4">
          <PrintFacts page={page} />
          <div className="flex flex-wrap gap-2">
            <Button
              kind="quiet"
              onClick={() => {
                setOpen("rate");
              }}
            >
              Rate features
            </Button>
            {before && after && (
              <Button
                kind="quiet"
                onClick={() => {
                  setOpen("blind");
                }}
              >
                Rate blind
              </Button>
            )}
            <Button
              kind="quiet"
              onClick={() => {
                setOpen("strength");
              }}
            >
              Strength
            </Button>
          </div>
          <RatingsTable page={page} />
          <Strengths page={page} />
        </div>
      </div>
      {open === "rate" && <RatingsSlip page={page} blind={false} onClose={close} />}
      {open === "blind" && <RatingsSlip page={page} blind onClose={close} />}
      {open === "strength" && <StrengthSlip page={page} onClose={close} />}
    </section>
  );
}

function OnePhoto({ side, photo }: { side: Side; photo: Photo | undefined }) {
  return (
    <figure className="bg-paper">
      {photo ? (
        <img
          src={photoAddress(photo, "whole")}
          alt={`The print ${side} drying: ${photo.name}`}
          className="max-h-96 w-full object-contain"
        />
      ) : (
        <div className="flex h-44 items-center justify-center border-2 border-dashed border-line text-sm text-muted">
          {side === "after" ? "not printed yet" : "no photo yet"}
        </div>
      )}
      <figcaption className="px-2 py-1 text-sm text-muted">{side} drying</figcaption>
    </figure>
  );
}

function PhotoActs({ page }: { page: CaseFacts }) {
  const remove = useRemovePhoto();
  return (
    <div className="mt-2 flex flex-wrap items-start gap-x-4 gap-y-2">
      <PhotoPick page={page} side="before" />
      <PhotoPick page={page} side="after" />
      {page.photos.length > 0 && (
        <ul className="flex flex-wrap gap-x-3 text-sm text-muted">
          {page.photos.map((photo) => (
            <li key={photo.id}>
              {photo.side}: {photo.name}{" "}
              <RemoveButton
                removal={remove}
                id={photo.id}
                label={`Remove the photo ${photo.name}`}
                done={`Removed ${photo.name}.`}
              />
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}

function PrintFacts({ page }: { page: CaseFacts }) {
  const now = new Date();
  return (
    <dl className="flex flex-col gap-1 text-sm">
      {(["before", "after"] as const).map((side) => {
        const made = page[side];
        return (
          <div key={side} className="grid grid-cols-[4rem_1fr] gap-2">
            <dt className="text-muted">{side}</dt>
            <dd>
              {made ? (
                <>
                  {made.file?.name ?? made.name}, {when(new Date(made.at), now)}
                  {made.mass_g !== null && ` · ${mass(made.mass_g, 0)}`}
                  {made.file?.summary.nozzle_c != null && ` · ${temp(made.file.summary.nozzle_c)}`}
                  {made.file?.summary.retraction_mm != null &&
                    ` · retracts ${fixed(made.file.summary.retraction_mm, 1)} mm`}
                  {made.compensated && ` · compensated: ${made.compensated}`}
                </>
              ) : side === "after" ? (
                "not printed yet: the same file is needed"
              ) : (
                "no print chosen: use “change” above the chart"
              )}
            </dd>
          </div>
        );
      })}
      {page.files.differs.length > 0 && (
        <div className="grid grid-cols-[4rem_1fr] gap-2">
          <dt className="text-muted">differs</dt>
          <dd>{page.files.differs.map(differenceWords).join("; ")}</dd>
        </div>
      )}
    </dl>
  );
}

function Strengths({ page }: { page: CaseFacts }) {
  if (page.strengths.length === 0) return null;
  return (
    <table className="w-full text-sm">
      <caption className="text-left font-bold">Strength</caption>
      <tbody>
        {page.strengths.map((strength) => (
          <tr key={`${strength.method} ${strength.pose}`} className="border-b border-line">
            <th scope="row" className="py-1 text-left font-normal">
              {strength.method}, {strength.pose}
            </th>
            <td className="num whitespace-nowrap">
              {fixed(strength.change.before, 0)} → {fixed(strength.change.after, 0)} {strength.unit}
            </td>
            <td className="text-right">{changeWords(strength.change)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
