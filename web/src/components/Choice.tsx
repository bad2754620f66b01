import { Label, Radio, RadioGroup } from "@headlessui/react";

interface Option<Value> {
  value: Value;
  name: string;
  note?: string;
}

interface Props<Value> {
  label: string;
  value: Value;
  options: readonly Option<Value>[];
  onChoose: (value: Value) => void;
  across?: boolean;
}

/** One out of a few, all in sight: a column with notes, or side by side. */
export function Choice<Value extends string | number>(props: Props<Value>) {
  const { label, value, options, onChoose, across = false } = props;
  return (
    <RadioGroup value={value} onChange={onChoose}>
      <Label className="mb-1 block text-sm text-muted">{label}</Label>
      <div className={across ? "flex border-2 border-ink" : "flex flex-col"}>
        {options.map((option) => (
          <Radio
            key={option.value}
            value={option.value}
            className={
              across
                ? "flex grow cursor-pointer flex-col justify-center px-2 py-1.5 text-center data-checked:bg-ink data-checked:text-paper"
                : "cursor-pointer border-l-4 border-transparent px-2.5 py-1.5 data-checked:border-ink data-checked:bg-paper"
            }
          >
            <span className={across ? "" : "font-bold"}>{option.name}</span>
            {option.note && (
              <span className={`block text-sm ${across ? "" : "text-muted"}`}>{option.note}</span>
            )}
          </Radio>
        ))}
      </div>
    </RadioGroup>
  );
}
