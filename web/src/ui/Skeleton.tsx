/** Grey shapes where the real thing will stand. */
export function Skeleton({ rows, height }: { rows: number; height: string }) {
  return (
    <div role="status" className="flex flex-col gap-1.5">
      <span className="sr-only">Loading</span>
      {Array.from({ length: rows }, (_, row) => (
        <div key={row} className={`bg-paper ${height} animate-pulse`} />
      ))}
    </div>
  );
}
