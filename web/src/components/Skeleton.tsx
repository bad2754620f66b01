interface Props {
  rows: number;
  height: string;
  /** The page that is loading, where it is a whole page; empty where it is not yet known which. */
  page?: string;
}

/** Grey shapes in place of what is loading. */
export function Skeleton({ rows, height, page }: Props) {
  return (
    <div role="status" className="flex flex-col gap-1.5">
      {page === undefined ? (
        <span className="sr-only">Loading</span>
      ) : (
        <>
          <title>{page === "" ? "Darre" : `${page} · Darre`}</title>
          <h1 className="sr-only">{page === "" ? "Loading" : `${page}: loading`}</h1>
        </>
      )}
      {Array.from({ length: rows }, (_, row) => (
        <div key={row} className={`bg-paper ${height} animate-pulse`} />
      ))}
    </div>
  );
}
