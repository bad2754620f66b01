import { Radio, RadioGroup } from "@headlessui/react";

interface Props {
  label: string;
  value: boolean | null;
  seen: string;
  unseen: string;
  onChoose: (value: boolean | null) => void;
}

/** Seen, looked for and not seen, or not looked: three different things. */
export function SeenChoice({ label, value, seen, unseen, onChoose }: Props) {
  const options = [
    { value: "seen", name: seen, to: true },
    { value: "unseen", name: unseen, to: false },
    { value: "", name: "not looked", to: null },
  ];
  return (
    <RadioGroup
      aria-label={label}
      value={value === null ? "" : value ? "seen" : "unseen"}
      className="flex w-full border-2 border-line text-sm sm:w-fit"
      onChange={(chosen: string) => {
        onChoose(options.find((option) => option.value === chosen)?.to ?? null);
      }}
    >
      {options.map((option) => (
        <Radio
          key={option.value}
          value={option.value}
          className="grow cursor-pointer px-3 py-1.5 text-center data-checked:bg-ink data-checked:text-paper"
        >
          {option.name}
        </Radio>
      ))}
    </RadioGroup>
  );
}
