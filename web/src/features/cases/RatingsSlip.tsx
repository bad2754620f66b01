import { Radio, RadioGroup } from "@headlessui/react";
import { useState } from "react";
import type { CaseFacts, FeatureId, Side } from "../../api/client";
import { useRate } from "./acts";
import { Button } from "../../components/Button";
import { useShell } from "../../components/shell";
import { Slip } from "../../components/Slip";
import { FEATURE_WORDS } from "./caseWords";
import { Alert } from "../../components/Alert";
import { latestPhoto, photoAddress } from "./photos";

interface Props {
  page: CaseFacts;
  blind: boolean;
  onClose: () => void;
}

const SCORES = [1, 2, 3, 4, 5];
const FEATURES = Object.keys(FEATURE_WORDS) as FeatureId[];
type Scores = Record<string, number>;

/** Rate each feature of both prints. Blind: the two are shown as left and right in an order that is not told. */
export function RatingsSlip({ page, blind, onClose }: Props) {
  const rate = useRate();
  const { notify } = useShell();
  const [sides] = useState<[Side, Side]>(() =>
    blind && Math.random() < 0.5 ? ["after", "before"] : ["before", "after"],
  );
  const [scores, setScores] = useState<Scores>(() =>
    blind
      ? {}
      : Object.fromEntries(page.ratings.map((rating) => [`${rating.side} ${rating.feature}`, rating.score])),
  );
  const names = blind ? ["left", "right"] : sides;
  return (
    <Slip
      wide
      title={blind ? "Rate blind: you see which is which once you save" : "Rate features"}
      onClose={onClose}
      onSubmit={() => {
        rate.mutate(
          {
            id: page.case.id,
            body: {
              blind,
              scores: Object.entries(scores).map(([key, score]) => {
                const [side, feature] = key.split(" ");
                return { side: side as Side, feature: feature as FeatureId, score };
              }),
            },
          },
          {
            onSuccess: ({ undo }) => {
              onClose();
              notify({
                text: blind ? `Saved. The left print was the one ${sides[0]} drying.` : "Saved the ratings.",
                undo,
              });
            },
          },
        );
      }}
    >
      {blind && (
        <div className="grid grid-cols-2 gap-2">
          {sides.map((side, index) => {
            const photo = latestPhoto(page, side);
            return (
              <figure key={side}>
                {photo && (
                  <img
                    src={photoAddress(photo, "whole")}
                    alt={`Print ${names[index] ?? ""}`}
                    className="max-h-56 w-full object-contain"
                  />
                )}
                <figcaption className="text-center text-sm text-muted">{names[index]}</figcaption>
              </figure>
            );
          })}
        </div>
      )}
      <p className="text-sm text-muted">1 spoilt, 5 clean. Leave out what you can’t judge.</p>
      <table className="text-sm">
        <thead>
          <tr>
            <td />
            {names.map((name) => (
              <th key={name} scope="col" className="text-left font-bold">
                {name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {FEATURES.filter((kind) => !blind || !["sound", "strength"].includes(kind)).map((feature) => (
            <tr key={feature}>
              <th scope="row" className="py-0.5 pr-3 text-left font-normal">
                {FEATURE_WORDS[feature]}
              </th>
              {sides.map((side, index) => {
                const key = `${side} ${feature}`;
                return (
                  <td key={side} className="py-0.5 pr-3">
                    <ScoreChoice
                      label={`${FEATURE_WORDS[feature]}, ${names[index] ?? ""}`}
                      value={scores[key]}
                      onChoose={(score) => {
                        setScores({ ...scores, [key]: score });
                      }}
                    />
                  </td>
                );
              })}
            </tr>
          ))}
        </tbody>
      </table>
      {rate.error && <Alert>{rate.error.message}</Alert>}
      <Button
        type="submit"
        kind="primary"
        className="self-start"
        disabled={rate.isPending || Object.keys(scores).length === 0}
      >
        Save
      </Button>
    </Slip>
  );
}

interface ScoreProps {
  label: string;
  value: number | undefined;
  onChoose: (score: number) => void;
}

function ScoreChoice({ label, value, onChoose }: ScoreProps) {
  return (
    <RadioGroup
      aria-label={label}
      value={value ?? 0}
      onChange={onChoose}
      className="flex w-fit border-2 border-line"
    >
      {SCORES.map((score) => (
        <Radio
          key={score}
          value={score}
          className="cursor-pointer px-2 py-0.5 num data-checked:bg-ink data-checked:text-paper"
        >
          {score}
        </Radio>
      ))}
    </RadioGroup>
  );
}
