import { Button as Plain } from "@headlessui/react";
import { type ReactNode, useId } from "react";
import type { CaseEvidence } from "../../api/client";
import { bitsWords, inTen } from "./caseWords";
import { type Bar, barsOf, barScale } from "./evidenceBars";
import { useWidth } from "../../charts/useWidth";
import { waterColour } from "../../charts/waterColour";

const PAD = 14;

interface Row {
  name: string;
  told: string;
  /** What stands under the row while it is open. */
  more: ReactNode;
}

interface Props {
  evidence: CaseEvidence;
  /** Moisture at the print against the trouble mark: the one bar that stands for water has its colour. */
  wetness: number | null;
  /** One for the start and one for each weight, in the order of the evidence. */
  rows: readonly Row[];
  open: number | null;
  onOpen: (row: number | null) => void;
}

const WIDE_ENOUGH = 130; // px that “← something else” needs

/** The evidence as stacked weights: each bar begins where the last one ended, right for the water, left for something
 * else. */
export function EvidenceChart({ evidence, wetness, rows, open, onOpen }: Props) {
  const { ref, width } = useWidth<HTMLDivElement>(480);
  const bars = barsOf(evidence);
  const { x, named } = barScale(bars, width, PAD);
  const end = bars.at(-1)?.to ?? 0;
  const tight = rows.length > 8;
  return (
    <section aria-label="Evidence">
      <div className="evidence-row items-end text-sm">
        <span className="hidden sm:block" />
        <div ref={ref} className="relative h-9" aria-hidden>
          <span
            className="absolute top-0 -translate-x-full pr-3 whitespace-nowrap text-muted"
            style={{ left: x(0) }}
          >
            {x(0) >= WIDE_ENOUGH ? "← something else" : "← other"}
          </span>
          <span className="absolute top-0 pl-3 font-bold whitespace-nowrap" style={{ left: x(0) }}>
            the water →
          </span>
          {named.map((tick) => (
            <span
              key={tick.p}
              className="absolute bottom-0 -translate-x-1/2 num text-xs whitespace-nowrap text-muted"
              style={{ left: x(tick.at) }}
            >
              {tick.name}
            </span>
          ))}
        </div>
      </div>
      <ol>
        {rows.map((row, index) => {
          const bar = bars[index];
          if (!bar) return null;
          return (
            <li key={bar.key} className={tight ? "mb-0.5" : "mb-1.5"}>
              <Plain
                aria-expanded={open === index}
                className="evidence-row w-full cursor-pointer bg-paper text-left outline-offset-0 data-hover:bg-band"
                onClick={() => {
                  onOpen(open === index ? null : index);
                }}
              >
                <span className={`px-3 ${tight ? "py-1" : "py-2"}`}>
                  <strong className="block leading-tight">{row.name}</strong>
                  <span className="block text-sm leading-tight text-muted">{row.told}</span>
                </span>
                <LeanBar
                  bar={bar}
                  x={x}
                  width={width}
                  named={named.map((tick) => tick.at)}
                  colour={index === 0 && wetness !== null ? waterColour(wetness) : null}
                />
              </Plain>
              {open === index && <div className="border-t border-line bg-paper px-3 py-3">{row.more}</div>}
            </li>
          );
        })}
      </ol>
      <div className="evidence-row">
        <span className="hidden sm:block" />
        <div className="relative h-8">
          <strong
            className="absolute -translate-x-1/2 border-t-4 border-ink pt-0.5 whitespace-nowrap"
            style={{ left: Math.min(Math.max(x(end), 58), width - 58) }}
          >
            {inTen(evidence.p_water)}
          </strong>
        </div>
      </div>
    </section>
  );
}

interface BarProps {
  bar: Bar;
  x: (bits: number) => number;
  width: number;
  named: readonly number[];
  colour: string | null;
}

function LeanBar({ bar, x, width, named, colour }: BarProps) {
  const hatch = useId();
  const left = Math.min(x(bar.from), x(bar.to));
  const length = Math.abs(x(bar.to) - x(bar.from));
  const rightward = bar.to >= bar.from;
  const words = bitsWords(bar.to - bar.from);
  const outside = rightward ? x(bar.to) + 6 : x(bar.to) - 6;
  const fits = rightward ? outside + 44 < width : outside - 44 > 0;
  return (
    <span className="relative block min-h-9">
      <svg
        role="img"
        aria-label={`${words} bits ${rightward ? "for the water" : "for something else"}`}
        className="absolute inset-0 size-full"
      >
        <defs>
          <pattern
            id={hatch}
            width="6"
            height="6"
            patternUnits="userSpaceOnUse"
            patternTransform="rotate(45)"
          >
            <rect width="6" height="6" className="fill-paper" />
            <line x1="0" y1="0" x2="0" y2="6" strokeWidth="5" className="stroke-muted" />
          </pattern>
        </defs>
        {named.map((at) => (
          <line
            key={at}
            x1={x(at)}
            x2={x(at)}
            y1="0"
            y2="100%"
            className={at === 0 ? "stroke-ink" : "stroke-line"}
            strokeWidth={at === 0 ? 2 : 1}
          />
        ))}
        <line x1={x(bar.from)} x2={x(bar.from)} y1="0" y2="24%" className="stroke-ink" />
        <rect
          x={left}
          y="24%"
          width={Math.max(length, 2)}
          height="52%"
          fill={colour ?? (rightward ? "var(--ink)" : `url(#${hatch})`)}
          className={rightward ? "" : "stroke-ink"}
        />
        <line x1={x(bar.to)} x2={x(bar.to)} y1="76%" y2="100%" className="stroke-ink" />
        <text
          x={fits ? outside : rightward ? left - 6 : left + length + 6}
          y="50%"
          dominantBaseline="central"
          textAnchor={fits === rightward ? "start" : "end"}
          className="halo fill-ink num text-[13px]"
        >
          {words}
        </text>
      </svg>
    </span>
  );
}
