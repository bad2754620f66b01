import { Button } from "../components/Button";
import { ModalTitle } from "../components/Modal";
import { OverPage } from "../components/OverPage";

const KEYS = [
  ["W", "weigh, from anywhere"],
  ["P", "plan a run for the spool you look at"],
  ["M", "move a spool; then the place’s digit"],
  ["B", "a bad print: was it the water?"],
  ["/", "find a spool"],
  ["↑ ↓", "from lane to lane on the rack"],
  ["Enter", "open the lane; in a form: save"],
  ["Esc", "close what is open"],
  ["?", "these keys"],
] as const;

/** All keys. */
export function KeysHelp({ onClose }: { onClose: () => void }) {
  return (
    <OverPage onClose={onClose}>
      <ModalTitle className="mb-3 text-xl">Keys</ModalTitle>
      <dl className="mb-4 grid grid-cols-[5rem_1fr] gap-y-2">
        {KEYS.map(([key, act]) => (
          <div key={key} className="contents">
            <dt>
              <kbd>{key}</kbd>
            </dt>
            <dd>{act}</dd>
          </div>
        ))}
      </dl>
      <Button kind="quiet" onClick={onClose}>
        Close
      </Button>
    </OverPage>
  );
}
