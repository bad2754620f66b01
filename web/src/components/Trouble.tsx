import { ApiError } from "../api/client";
import { knownSince } from "../api/lastKnown";
import { Button } from "./Button";

/** A page that no answer was kept of, while the server is away. */
const NEVER_OPENED = "Darre does not answer, and this page was not opened here before. The rack still opens.";

/** Something that could not be loaded: what is wrong, and the way to try again. */
export function Trouble({ error, onRetry }: { error: Error; onRetry?: () => unknown }) {
  const away = error instanceof ApiError && error.code === "unreachable" && knownSince() !== null;
  return (
    <div role="alert" className="my-3 border-l-4 border-heat bg-paper p-4">
      <p className="mb-2 font-bold">{away ? NEVER_OPENED : error.message}</p>
      {onRetry && (
        <Button kind="quiet" onClick={() => void onRetry()}>
          Try again
        </Button>
      )}
    </div>
  );
}
