/** A code to scan, dark on white whatever the theme. `what`: what it leads to. */
export function Code({ svg, what }: { svg: string; what: string }) {
  return (
    <img
      alt={`Code to scan: ${what}`}
      src={`data:image/svg+xml,${encodeURIComponent(svg)}`}
      className="size-40 shrink-0 border-8 border-white bg-white"
    />
  );
}
