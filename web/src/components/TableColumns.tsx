import { Picker } from "./Picker";

interface Props<Meaning extends string> {
  heads: readonly string[];
  columns: readonly Meaning[];
  meanings: Record<Meaning, string>;
  onColumns: (columns: Meaning[]) => void;
}

/** What each column of a table is taken for, to be put right. */
export function TableColumns<Meaning extends string>({
  heads,
  columns,
  meanings,
  onColumns,
}: Props<Meaning>) {
  const options = Object.entries<string>(meanings).map(([value, name]) => ({
    value: value as Meaning,
    name,
  }));
  return (
    <>
      <h2 className="mb-2">What the columns are</h2>
      <div className="grid gap-3 sm:grid-cols-3">
        {heads.map((head, n) => (
          <Picker
            key={`${head} ${n}`}
            label={head || `column ${n + 1}`}
            value={columns[n] ?? ("nothing" as Meaning)}
            options={options}
            onChoose={(meaning) => {
              onColumns(columns.map((one, at) => (at === n ? meaning : one)));
            }}
          />
        ))}
      </div>
    </>
  );
}
