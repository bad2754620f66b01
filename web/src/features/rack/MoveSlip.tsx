import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { type Place } from "../../api/client";
import { useMoveSpools } from "../spools/acts";
import { lanes as lanesQuery } from "./queries";
import { places as placesQuery } from "../storage/queries";
import { clock, fromLocalField } from "../../domain/times";
import { useOrLater } from "../outbox/useOrLater";
import { useKeydown } from "../../components/useKeydown";
import { useShell } from "../../components/shell";
import { JustNow } from "../../components/JustNow";
import { SomePicker } from "../../components/Picker";
import { Slip } from "../../components/Slip";
import { PLACE_WORDS } from "../storage/words";
import { Afterwards } from "../../components/Afterwards";
import { Alert } from "../../components/Alert";

/** Where did it go? A digit or a click on the place is all it takes; others may go along, and it may have been earlier. */
export function MoveSlip({ asked, onClose }: { asked: readonly number[]; onClose: () => void }) {
  const { notify } = useShell();
  const { data: places = [] } = useQuery(placesQuery);
  const { data: lanes = [] } = useQuery(lanesQuery);
  const move = useMoveSpools();
  const orLater = useOrLater();
  const [chosen, setChosen] = useState<number[] | null>(asked.length > 0 ? [...asked] : null);
  const [at, setAt] = useState<string | null>(null);
  const [first] = lanes;
  const spools = chosen ?? (first ? [first.spool.id] : []);
  const names = lanes.filter((lane) => spools.includes(lane.spool.id)).map((lane) => lane.spool.name);

  async function put(place: Place) {
    if (move.isPending || spools.length === 0) return;
    const when = at === null ? null : fromLocalField(at);
    const body = { spools, place: place.id, ...(when === null ? {} : { at: when }) };
    const [key, moved] = [crypto.randomUUID(), when ?? new Date().toISOString()];
    const told = `${names.join(", ")} to ${place.name} at ${clock(new Date(moved))}`;
    try {
      const done = await orLater(
        () => move.mutateAsync({ body, key }),
        { key, path: "/api/stays/", body: { ...body, at: moved } },
        told,
      );
      onClose();
      if (done) notify({ text: `${names.join(", ")}: now in ${place.name}.`, undo: done.undo });
    } catch {
      // What was refused is said in the slip.
    }
  }

  useKeydown((event) => {
    if (event.target instanceof HTMLInputElement || event.ctrlKey || event.metaKey || event.altKey) return;
    const place = places[Number(event.key) - 1];
    if (/^[1-9]$/.test(event.key) && place) {
      event.preventDefault();
      void put(place);
    }
  });

  return (
    <Slip
      title={names.length === 1 ? `Where did ${names[0] ?? "it"} go?` : "Where did they go?"}
      onClose={onClose}
      onSubmit={() => undefined}
    >
      <ul aria-label="Places" className="flex flex-col gap-1">
        {places.map((place, index) => (
          <li key={place.id}>
            <button
              type="button"
              autoFocus={index === 0}
              className="flex w-full items-baseline gap-3 border-2 border-line bg-paper px-3 py-2 text-left hover:border-ink focus-visible:border-ink"
              onClick={() => {
                void put(place);
              }}
            >
              {index < 9 && <kbd>{index + 1}</kbd>}
              <strong>{place.name}</strong>
              <span className="text-sm text-muted">{PLACE_WORDS[place.kind]}</span>
            </button>
          </li>
        ))}
      </ul>
      {move.error && <Alert>{move.error.message}</Alert>}
      <Afterwards space="h-24 max-sm:h-31">
        <SomePicker
          label="Which spools"
          none="none"
          options={lanes.map((lane) => ({
            value: lane.spool.id,
            name: lane.spool.name,
            note: lane.place?.name,
          }))}
          values={spools}
          onChoose={setChosen}
        />
        <JustNow what="Moved" now="just now" at={at} onAt={setAt} />
      </Afterwards>
    </Slip>
  );
}
