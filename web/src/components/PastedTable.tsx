import { Field as Group, Label, Textarea } from "@headlessui/react";
import { FilePick } from "./FilePick";
import { field, panel } from "./classes";

interface Props {
  text: string;
  example: string;
  onText: (text: string) => void;
}

/** A table with a head row: pasted from a spreadsheet, or out of a file. */
export function PastedTable({ text, example, onText }: Props) {
  return (
    <Group className={panel}>
      <Label className="mb-1 block text-sm text-muted">
        A table with a head row, pasted from a spreadsheet or out of a CSV file
      </Label>
      <Textarea
        className={`${field} h-64 font-mono text-sm`}
        value={text}
        placeholder={example}
        spellCheck={false}
        onChange={(event) => {
          onText(event.target.value);
        }}
      />
      <div className="mt-3">
        <FilePick
          label="Or choose a file"
          accept=".csv,.tsv,.txt,text/csv,text/plain"
          share={null}
          error={undefined}
          onStop={() => undefined}
          onFile={(file) => {
            void file.text().then(onText);
          }}
        />
      </div>
    </Group>
  );
}
