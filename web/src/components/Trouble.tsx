import { Button } from "./Button";

/** Something that could not be loaded: what is wrong, and the way to try again. */
export function Trouble({ error, onRetry }: { error: Error; onRetry?: () => unknown }) {
  return (
    <div role="alert" className="my-3 border-l-4 border-heat bg-paper p-4">
      <p className="mb-2 font-bold">{error.message}</p>
      {onRetry && (
        <Button kind="quiet" onClick={() => void onRetry()}>
          Try again
        </Button>
      )}
    </div>
  );
}
