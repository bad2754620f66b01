import type { Practice } from "../api/client";

type Tenths = Practice["sum"]["tenths"];

const SIZE = 300;
const PAD = 34;

const at = (share: number): number => PAD + share * (SIZE - PAD - 10);
const up = (share: number): number => SIZE - PAD - share * (SIZE - PAD - 10);

/** Stated chances against how often it was so; on the diagonal a chance means what it says. */
export function CalibrationChart({ tenths }: { tenths: Tenths }) {
  return (
    <>
      <svg
        viewBox={`0 0 ${SIZE} ${SIZE}`}
        role="img"
        aria-label="What you said against what happened"
        className="w-full max-w-80"
      >
        <rect x={at(0)} y={up(1)} width={at(1) - at(0)} height={up(0) - up(1)} className="fill-paper" />
        {[0, 0.5, 1].map((share) => (
          <g key={share} className="stroke-line">
            <line x1={at(share)} x2={at(share)} y1={up(0)} y2={up(1)} />
            <line x1={at(0)} x2={at(1)} y1={up(share)} y2={up(share)} />
            <text
              x={at(share)}
              y={up(0) + 14}
              textAnchor="middle"
              className="fill-muted num text-[11px]"
              stroke="none"
            >
              {100 * share}
            </text>
            <text
              x={at(0) - 6}
              y={up(share) + 4}
              textAnchor="end"
              className="fill-muted num text-[11px]"
              stroke="none"
            >
              {100 * share}
            </text>
          </g>
        ))}
        <line x1={at(0)} y1={up(0)} x2={at(1)} y2={up(1)} className="stroke-muted" strokeDasharray="4 4" />
        <text x={at(0.5)} y={SIZE - 4} textAnchor="middle" className="fill-muted text-xs">
          you said, of 100
        </text>
        <text x={at(0) + 4} y={up(1) + 14} className="fill-muted text-xs">
          it was the water, of 100
        </text>
        {tenths.map((tenth) => (
          <g key={tenth.low}>
            <line
              x1={at(tenth.stated)}
              x2={at(tenth.stated)}
              y1={up(tenth.happened_low)}
              y2={up(tenth.happened_high)}
              className="stroke-ink"
            />
            <circle
              cx={at(tenth.stated)}
              cy={up(tenth.happened)}
              r={4 + Math.min(4, tenth.count / 4)}
              className="fill-ink"
            >
              <title>
                {`said ${Math.round(100 * tenth.stated)}, was so ${Math.round(100 * tenth.happened)} of 100, ${tenth.count} rounds`}
              </title>
            </circle>
          </g>
        ))}
      </svg>
      <table className="sr-only">
        <caption>What you said against what happened</caption>
        <thead>
          <tr>
            <th scope="col">you said, %</th>
            <th scope="col">was so, %</th>
            <th scope="col">rounds</th>
          </tr>
        </thead>
        <tbody>
          {tenths.map((tenth) => (
            <tr key={tenth.low}>
              <td>{Math.round(100 * tenth.stated)}</td>
              <td>{Math.round(100 * tenth.happened)}</td>
              <td>{tenth.count}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}
