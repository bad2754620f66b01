import { type PointerEvent, useState } from "react";
import type { Photo } from "../../api/client";
import { photoAddress } from "./photos";

export type View = "divider" | "side";

interface Props {
  before: Photo;
  after: Photo;
  view: View;
  grid: boolean;
}

const STEP = 2;

/** Two photos in the same frame: one over the other with a divider that is dragged or moved by keys, or side by side. */
export function Compare({ before, after, view, grid }: Props) {
  if (view === "side") {
    return (
      <div className="grid grid-cols-2 gap-1">
        <Picture photo={before} said="before drying" grid={grid} />
        <Picture photo={after} said="after drying" grid={grid} />
      </div>
    );
  }
  return <Divided before={before} after={after} grid={grid} />;
}

function Picture({ photo, said, grid }: { photo: Photo; said: string; grid: boolean }) {
  return (
    <figure className="relative bg-paper" style={{ aspectRatio: `${photo.width} / ${photo.height}` }}>
      <img
        src={photoAddress(photo, "whole")}
        alt={`The print ${said}: ${photo.name}`}
        className="size-full object-contain"
      />
      {grid && <Grid />}
      <figcaption className="absolute bottom-2 left-2 bg-paper px-1.5 text-sm">{said}</figcaption>
    </figure>
  );
}

function Divided({ before, after, grid }: Omit<Props, "view">) {
  const [share, setShare] = useState(50);
  function drag(event: PointerEvent<HTMLDivElement>) {
    if (event.buttons === 0) return;
    const frame = event.currentTarget.getBoundingClientRect();
    setShare(Math.min(100, Math.max(0, (100 * (event.clientX - frame.left)) / frame.width)));
  }
  return (
    <div
      className="relative touch-pan-y overflow-hidden bg-paper select-none"
      style={{ aspectRatio: `${before.width} / ${before.height}` }}
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        drag(event);
      }}
      onPointerMove={drag}
    >
      <img
        src={photoAddress(after, "whole")}
        alt={`The print after drying: ${after.name}`}
        draggable={false}
        className="absolute inset-0 size-full object-contain"
      />
      <img
        src={photoAddress(before, "whole")}
        alt={`The print before drying: ${before.name}`}
        draggable={false}
        className="absolute inset-0 size-full object-contain"
        style={{ clipPath: `inset(0 ${100 - share}% 0 0)` }}
      />
      {grid && <Grid />}
      <span className="absolute bottom-2 left-2 bg-paper px-1.5 text-sm">before drying</span>
      <span className="absolute right-2 bottom-2 bg-paper px-1.5 text-sm">after drying</span>
      <div
        role="slider"
        tabIndex={0}
        aria-label="Divider between before and after"
        aria-valuemin={0}
        aria-valuemax={100}
        aria-valuenow={Math.round(share)}
        aria-valuetext={`${Math.round(share)} % before`}
        className="absolute inset-y-0 w-7 -translate-x-1/2 cursor-ew-resize max-sm:w-11"
        style={{ left: `${share}%` }}
        onKeyDown={(event) => {
          const by = { ArrowLeft: -STEP, ArrowRight: STEP, PageDown: -10, PageUp: 10 }[event.key];
          const to = { Home: 0, End: 100 }[event.key];
          if (by === undefined && to === undefined) return;
          event.preventDefault();
          setShare(Math.min(100, Math.max(0, to ?? share + (by ?? 0))));
        }}
      >
        <div className="mx-auto h-full w-1 bg-head outline outline-on-head" />
      </div>
    </div>
  );
}

function Grid() {
  const lines = Array.from({ length: 9 }, (_, n) => `${(n + 1) * 10}%`);
  return (
    <svg aria-hidden className="pointer-events-none absolute inset-0 size-full">
      {lines.map((at) => (
        <g key={at} stroke="#fbfcfa" strokeWidth="1" opacity="0.7">
          <line x1={at} x2={at} y1="0" y2="100%" />
          <line y1={at} y2={at} x1="0" x2="100%" />
        </g>
      ))}
    </svg>
  );
}
