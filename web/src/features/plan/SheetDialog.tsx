import { Button, Checkbox, Field as Group, Label } from "@headlessui/react";
import { useState } from "react";
import { type Lane } from "../../api/client";
import { useSetSheet } from "../spools/acts";
import { bareTemp, typedTemp } from "../../domain/quantities";
import { tempUnit } from "../../domain/units";
import { useShell } from "../../components/shell";
import { Field } from "../../components/Field";
import { Slip } from "../../components/Slip";
import { link, primary } from "../../components/classes";
import { Alert } from "../../components/Alert";
import { refusal } from "../../components/refusal";

/** What the data sheet of this very spool asks for. */
export function SheetDialog({ spool, onClose }: { spool: Lane["spool"]; onClose: () => void }) {
  const { notify } = useShell();
  const set = useSetSheet();
  const { sheet } = spool;
  const [temp, setTemp] = useState(sheet ? bareTemp(Number(sheet.temp_c)) : "");
  const [hours, setHours] = useState(sheet ? String(Number(sheet.duration_h)) : "");
  const [opened, setOpened] = useState(sheet?.only_if_opened ?? false);
  const { refused, of } = refusal(set.error);

  function keep(next: Parameters<typeof set.mutate>[0]["sheet"], text: string) {
    set.mutate(
      { spool: spool.id, sheet: next },
      {
        onSuccess: ({ undo }) => {
          onClose();
          notify({ text, undo });
        },
      },
    );
  }

  return (
    <Slip
      title={`Maker’s sheet of ${spool.name}`}
      onClose={onClose}
      onSubmit={() => {
        keep(
          { temp_c: typedTemp(temp), duration_h: hours, only_if_opened: opened },
          `Saved the maker’s sheet of ${spool.name}.`,
        );
      }}
    >
      <Field
        label="Dry at"
        unit={tempUnit()}
        inputMode="decimal"
        value={temp}
        error={of("temp_c")}
        onText={setTemp}
      />
      <Field
        label="For"
        unit="h"
        inputMode="decimal"
        value={hours}
        error={of("duration_h")}
        onText={setHours}
      />
      <Group className="flex items-center gap-2">
        <Checkbox
          checked={opened}
          onChange={setOpened}
          className="flex size-5 items-center justify-center border-2 border-ink bg-paper"
        >
          {opened && <span aria-hidden>✓</span>}
        </Checkbox>
        <Label>only once the bag has been opened</Label>
      </Group>
      {refused && !of("temp_c") && !of("duration_h") && <Alert>{refused.message}</Alert>}
      <div className="flex items-center gap-4">
        <Button type="submit" className={primary} disabled={set.isPending}>
          Save
        </Button>
        {sheet && (
          <Button
            className={link}
            onClick={() => {
              keep(null, `Forgot the maker’s sheet of ${spool.name}.`);
            }}
          >
            remove it
          </Button>
        )}
      </div>
    </Slip>
  );
}
