import { scaleLinear } from "d3-scale";
import { useWidth } from "./useWidth";

export interface Grown {
  name: string;
  /** Water taken up, % of the mass before. */
  water: number;
  /** By how much it is longer, %. */
  longer: number;
}

interface Props {
  pieces: readonly Grown[];
  /** % longer for each percent of water: low, middle, high. */
  slope: readonly [number, number, number];
}

const HEIGHT = 300;
const [LEFT, RIGHT, TOP, BOTTOM] = [44, 12, 26, 40];

/** By how much pieces grew against the water that they took up, with the line through them and its band. */
export function SwellingChart({ pieces, slope }: Props) {
  const { ref, width } = useWidth<HTMLDivElement>(560);
  const most = 1.1 * Math.max(...pieces.map(({ water }) => water), 0.1);
  const ends = [...pieces.map(({ longer }) => longer), most * slope[0], most * slope[2], 0];
  const x = scaleLinear([0, most], [LEFT, width - RIGHT]);
  const y = scaleLinear([Math.min(...ends), Math.max(...ends)], [HEIGHT - BOTTOM, TOP]).nice();
  const end = (value: number) => `${x(most)},${y(most * value)}`;
  const write = y.tickFormat(5);
  return (
    <div ref={ref}>
      <svg
        width={width}
        height={HEIGHT}
        role="img"
        aria-label="How much longer the pieces are, by the water in them"
      >
        <rect
          x={LEFT}
          y={TOP}
          width={width - LEFT - RIGHT}
          height={HEIGHT - TOP - BOTTOM}
          className="fill-paper"
        />
        {y.ticks(5).map((value) => (
          <g key={value}>
            <line x1={LEFT} x2={width - RIGHT} y1={y(value)} y2={y(value)} className="stroke-line" />
            <text x={LEFT - 8} y={y(value)} dy="0.35em" textAnchor="end" className="fill-muted num text-xs">
              {write(value)}
            </text>
          </g>
        ))}
        {x.ticks(5).map((value) => (
          <text
            key={value}
            x={x(value)}
            y={HEIGHT - BOTTOM + 18}
            textAnchor="middle"
            className="fill-muted num text-xs"
          >
            {value}
          </text>
        ))}
        <path d={`M${x(0)},${y(0)}L${end(slope[0])}L${end(slope[2])}Z`} className="fill-band" />
        <path d={`M${x(0)},${y(0)}L${end(slope[1])}`} className="stroke-ink" strokeWidth={2} />
        {pieces.map(({ name, water, longer }, n) => (
          <circle key={n} cx={x(water)} cy={y(longer)} r={4.5} className="fill-ink">
            <title>{name}</title>
          </circle>
        ))}
        <text x={LEFT} y={14} className="fill-muted text-xs">
          longer by, %
        </text>
        <text x={width - RIGHT} y={HEIGHT - 4} textAnchor="end" className="fill-muted text-xs">
          water taken up, % of the mass before
        </text>
      </svg>
    </div>
  );
}
