import { Button } from "../../components/Button";
import { useBrowserNotes } from "../../components/browserNotes";

/** Whether the browser may say when a run wants something. */
export function NotifyMe() {
  const { allowed, ask } = useBrowserNotes();
  switch (allowed) {
    case "granted":
      return (
        <p className="mb-3 text-sm text-muted">
          This browser notifies you when it is time, while Darre is open.
        </p>
      );
    case "denied":
    case "missing":
      return <p className="mb-3 text-sm text-muted">Darre reminds you on this page when it is time.</p>;
    case "default":
      return (
        <Button kind="link" className="mb-3 text-sm" onClick={() => void ask()}>
          notify me in this browser
        </Button>
      );
  }
}
