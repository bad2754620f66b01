import type { CaseFacts, FeatureId } from "../../api/client";
import { FEATURE_WORDS } from "./caseWords";

/** Ratings before against after, feature by feature: two marks on a rule from spoilt to clean. */
export function RatingsTable({ page }: { page: CaseFacts }) {
  const features = (Object.keys(FEATURE_WORDS) as FeatureId[]).filter((key) =>
    page.ratings.some((rating) => rating.feature === key),
  );
  if (features.length === 0) return null;
  const score = (feature: FeatureId, side: string) =>
    page.ratings.find((rating) => rating.feature === feature && rating.side === side)?.score;
  const blind = page.ratings.every((rating) => rating.blind);
  return (
    <table className="w-full text-sm">
      <caption className="text-left font-bold">
        Features, 1 spoilt to 5 clean{" "}
        <span className="font-normal text-muted">{blind ? "rated blind" : "rated knowing which"}</span>
      </caption>
      <thead className="sr-only">
        <tr>
          <th scope="col">feature</th>
          <th scope="col">before</th>
          <th scope="col">after</th>
          <th scope="col">change</th>
        </tr>
      </thead>
      <tbody>
        {features.map((feature) => {
          const before = score(feature, "before");
          const after = score(feature, "after");
          return (
            <tr key={feature} className="border-b border-line">
              <th scope="row" className="py-0.5 text-left font-normal">
                {FEATURE_WORDS[feature]}
              </th>
              <td className="w-8 num">{before ?? "–"}</td>
              <td className="w-8 num">{after ?? "–"}</td>
              <td className="w-40">
                <Rule before={before} after={after} />
              </td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}

function Rule({ before, after }: { before: number | undefined; after: number | undefined }) {
  const at = (score: number) => 8 + (score - 1) * 36;
  return (
    <svg viewBox="0 0 160 16" aria-hidden className="block w-full">
      <line x1="8" x2="152" y1="8" y2="8" className="stroke-line" strokeWidth="2" />
      {before !== undefined && after !== undefined && (
        <line x1={at(before)} x2={at(after)} y1="8" y2="8" className="stroke-ink" strokeWidth="3" />
      )}
      {before !== undefined && (
        <circle cx={at(before)} cy="8" r="5" className="fill-paper stroke-ink" strokeWidth="2" />
      )}
      {after !== undefined && <circle cx={at(after)} cy="8" r="5" className="fill-ink" />}
    </svg>
  );
}
