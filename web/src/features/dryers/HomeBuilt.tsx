import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import * as z from "zod";
import { Button } from "../../components/Button";
import { panel } from "../../components/classes";
import { ChoiceField, NumberField, PickField } from "../../forms/fields";
import { optionsOf, YES_NO } from "../../forms/options";
import { quantity } from "../../forms/shape";
import { useActForm } from "../../forms/useActForm";
import { type Built, homeBuilt as homeBuiltQuery } from "./queries";
import { HEATERS, WALLS, warmthWords } from "./words";

const SHAPE = z.object({
  heater_w: quantity("plain", "the heater’s power in watts", 60),
  length_mm: quantity("size", "its length outside", 400),
  width_mm: quantity("size", "its width outside", 300),
  height_mm: quantity("size", "its height outside", 300),
  wall: z.custom<Built["wall"]>(),
  heater: z.custom<Built["heater"]>(),
  fan: z.enum(["yes", "no"]),
  away_cm: quantity("plain", "how far the spool stands from the heater, in cm", 15),
});

const START: z.input<typeof SHAPE> = {
  ...{ heater_w: "", length_mm: "", width_mm: "", height_mm: "", away_cm: "" },
  wall: "plastic",
  heater: "plate",
  fan: "no",
};

/** A box that somebody means to build: how warm it gets. `onUse` puts it into the comparison. */
export function HomeBuilt({ onUse }: { onUse: (maxC: number, heaterW: string) => void }) {
  const [asked, setAsked] = useState<Built>();
  const { data: found, error } = useQuery(homeBuiltQuery(asked));
  const form = useActForm(SHAPE, START);
  const { control } = form;
  const submit = form.submit(({ fan, ...typed }) => {
    setAsked({ ...typed, fan: fan === "yes" });
    return Promise.resolve();
  });
  return (
    <form
      noValidate
      aria-label="A box you build"
      className={`${panel} flex flex-col gap-3`}
      onSubmit={(event) => {
        event.preventDefault();
        submit();
      }}
    >
      <h2>How warm would a box of your own get?</h2>
      <div className="grid grid-cols-2 items-end gap-3">
        <NumberField control={control} name="heater_w" label="Heater" unit="W" />
        <NumberField control={control} name="away_cm" label="Spool away" unit="cm" />
      </div>
      <PickField control={control} name="heater" label="The heater is a" options={optionsOf(HEATERS)} />
      <div className="grid grid-cols-3 items-end gap-3">
        <NumberField control={control} name="length_mm" label="Long" measure="size" />
        <NumberField control={control} name="width_mm" label="Wide" measure="size" />
        <NumberField control={control} name="height_mm" label="High" measure="size" />
      </div>
      <PickField control={control} name="wall" label="Its wall" options={optionsOf(WALLS)} />
      <ChoiceField control={control} name="fan" label="Fan inside" across options={YES_NO} />
      <Button kind="quiet" type="submit" className="self-start">
        How warm?
      </Button>
      {error && <p role="alert">{error.message}</p>}
      {found && asked && (
        <div role="status" className="flex flex-col gap-2">
          <p className="font-bold">{warmthWords(found)}</p>
          <Button
            kind="link"
            className="self-start"
            onClick={() => {
              onUse(Math.floor(found.air_c), String(asked.heater_w));
            }}
          >
            compare it with my dryers
          </Button>
        </div>
      )}
      <p className="text-sm">
        A heater in a box can start a fire. Give it a thermostat and a thermal cut-off, keep card, wood and
        foam away from it, and never leave it unwatched at first. Mains wiring is for a qualified person.
      </p>
    </form>
  );
}
