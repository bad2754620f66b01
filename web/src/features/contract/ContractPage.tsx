import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { PageHeading } from "../../components/PageHeading";
import { Skeleton } from "../../components/Skeleton";
import { Trouble } from "../../components/Trouble";
import { field, link, panel } from "../../components/classes";
import { useAddressText } from "../../components/useAddressText";
import { session as sessionQuery } from "../people/queries";
import { examples } from "./examples";
import { contract as contractQuery, type Contract, type Operation, tables as tablesQuery } from "./queries";

interface Row {
  path: string;
  method: string;
  operation: Operation;
}

const rowsOf = ({ paths }: Contract): Row[] =>
  Object.entries(paths).flatMap(([path, methods]) =>
    Object.entries(methods).map(([method, operation]) => ({ path, method: method.toUpperCase(), operation })),
  );

const asked = ({ parameters = [] }: Operation): string =>
  parameters
    .filter((parameter) => parameter.in === "query")
    .map((parameter) => (parameter.required ? parameter.name : `${parameter.name}?`))
    .join(", ");

/** What programs may ask, rendered from the contract, with three examples. */
export function ContractPage() {
  const { data: contract, error, refetch } = useQuery(contractQuery);
  const { data: tables = [] } = useQuery(tablesQuery);
  const { data: me } = useQuery(sessionQuery);
  const [typed, setTyped] = useAddressText("find");
  if (error && !contract) return <Trouble error={error} onRetry={refetch} />;
  if (!contract) return <Skeleton page="For programs" rows={6} height="h-12" />;
  const rows = rowsOf(contract);
  const wanted = typed.trim().toLowerCase();
  const shown = rows.filter(({ path, operation }) =>
    `${path} ${operation.description ?? ""}`.toLowerCase().includes(wanted),
  );
  return (
    <>
      <PageHeading page="For programs" className="mb-2">
        Everything on these pages, for your own programs too.
      </PageHeading>
      <p className="mb-4 max-w-prose text-sm">
        JSON in and out, always in °C, g, mm and UTC; moisture is % of the dry mass.{" "}
        {me?.open ? (
          <>
            A program sends a token:{" "}
            <Link className={link} to="/people">
              make one
            </Link>
            .
          </>
        ) : (
          "On this machine alone a program needs no token."
        )}{" "}
        Give a write a UUID in the header <code className="whitespace-nowrap">X-Darre-Act</code>, and it is
        done once, however often it is sent.{" "}
        <a className={link} href="/api/schema/" download="darre-openapi.yaml">
          The whole contract (OpenAPI)
        </a>
      </p>
      <div className="mb-6 grid items-start gap-4 lg:grid-cols-[2fr_3fr_2fr]">
        {examples(window.location.origin, me?.open ?? false).map(({ name, code }) => (
          <section key={name} className={panel}>
            <h2 className="mb-2 font-bold">{name}</h2>

            <pre
              aria-label={`Example: ${name}`}
              className="num text-[13px] wrap-anywhere whitespace-pre-wrap"
            >
              {code}
            </pre>
          </section>
        ))}
      </div>
      <div className="mb-2 flex flex-wrap items-end justify-between gap-3">
        <h2 className="text-lg font-bold">{shown.length} addresses</h2>
        <input
          type="search"
          aria-label="Find an address"
          placeholder="find an address"
          className={`${field} max-w-60`}
          value={typed}
          onChange={(event) => {
            setTyped(event.target.value);
          }}
        />
      </div>
      <table className="mb-6 w-full bg-paper text-left text-sm">
        <thead className="text-muted">
          <tr>
            <th className="px-3 py-1 font-normal">method</th>
            <th className="px-3 font-normal">address</th>
            <th className="px-3 font-normal max-sm:hidden">what it is</th>
          </tr>
        </thead>
        <tbody>
          {shown.map(({ path, method, operation }) => (
            <tr key={`${method} ${path}`} className="border-t border-line align-top">
              <td className="px-3 py-1 num">{method}</td>
              <td className="px-3 py-1 num break-all">
                {path}
                {asked(operation) !== "" && <span className="block text-muted">? {asked(operation)}</span>}
              </td>
              <td className="px-3 py-1 max-sm:hidden">{operation.description ?? ""}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <h2 className="mb-2 text-lg font-bold">Tables as CSV</h2>
      <ul className="grid gap-x-6 text-sm sm:grid-cols-2">
        {tables.map((table) => (
          <li key={table.name} className="py-0.5">
            <a className={`${link} num`} href={table.address} download={table.name}>
              {table.name}
            </a>
          </li>
        ))}
      </ul>
    </>
  );
}
