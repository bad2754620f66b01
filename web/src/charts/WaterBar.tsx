import { useId } from "react";
import { percent } from "../format/numbers";
import { WATER_COLOURS, WATER_STOPS, waterColour } from "./waterColour";

/** The bar reaches from dry to this many trouble marks; beyond it the number alone speaks. */
const REACH = 2;

interface Props {
  moisture: number;
  plusMinus: number;
  clean: number;
  trouble: number;
}

const place = (share: number): string => `${Math.min(Math.max(share / REACH, 0), 1) * 100}%`;

/** A spool's waterline against its own two marks, with its uncertainty as a whisker. */
export function WaterBar({ moisture, plusMinus, clean, trouble }: Props) {
  const gradient = useId();
  const share = moisture / trouble;
  const low = Math.max(0, (moisture - plusMinus) / trouble);
  const high = (moisture + plusMinus) / trouble;
  const over = share > 0.95 * REACH;
  return (
    <svg
      className="absolute inset-0 h-full w-full"
      role="img"
      aria-label={`${percent(moisture)} %, clean below ${percent(clean)} %, trouble above ${percent(trouble)} %`}
    >
      <defs>
        <linearGradient id={gradient} gradientUnits="userSpaceOnUse" x1="0%" x2="100%" y1="0" y2="0">
          {WATER_STOPS.map((stop, index) => (
            <stop key={stop} offset={place(stop)} stopColor={WATER_COLOURS[index]} />
          ))}
        </linearGradient>
      </defs>
      <rect width={place(share)} height="100%" fill={`url(#${gradient})`} />
      <line
        x1={place(clean / trouble)}
        x2={place(clean / trouble)}
        y1="0"
        y2="100%"
        className="stroke-ink"
        strokeDasharray="2 3"
      />
      <line
        x1={place(1)}
        x2={place(1)}
        y1="0"
        y2="100%"
        className="stroke-heat"
        strokeWidth="2"
        strokeDasharray="6 3"
      />
      {over ? (
        <text x="99%" y="50%" dy="0.35em" textAnchor="end" className="fill-white text-[13px] font-bold">
          {percent(share)} × its trouble mark →
        </text>
      ) : (
        <>
          <line x1={place(low)} x2={place(high)} y1="50%" y2="50%" className="stroke-paper" strokeWidth="4" />
          <line x1={place(low)} x2={place(high)} y1="50%" y2="50%" className="stroke-ink" strokeWidth="1.5" />
          <circle
            cx={place(share)}
            cy="50%"
            r="5"
            className="stroke-ink"
            strokeWidth="1.5"
            fill={waterColour(share)}
          />
        </>
      )}
    </svg>
  );
}
