import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useWatch } from "react-hook-form";
import * as z from "zod";
import { scales as scalesQuery } from "../equipment/queries";
import { lanes as lanesQuery } from "../rack/queries";
import { ApiError, type Lane, type Scale } from "../../api/client";
import { typedMass } from "../../domain/quantities";
import { parseTyped } from "../../domain/typed";
import { toLocalField } from "../../domain/times";
import type { Intent } from "../../components/shell";
import { maybeMoment, maybeQuantity, maybeWords, quantity } from "../../forms/shape";
import { useActForm } from "../../forms/useActForm";
import { fitting, likelyScale, likelySpool, rememberScale } from "./guesses";
import { useSave } from "./useSave";

const MASS = ["mass", "what the scale reads", 858.4] as const;

const SHAPE = z.object({
  gross_g: quantity(...MASS),
  /** What goes into the dryer with it, each weighed or not. */
  others: z.array(maybeQuantity(...MASS)),
  weighed_object: z.enum(["spool", "coil"]),
  /** Which coil; 0 for a new one. */
  coil: z.number(),
  length_m: maybeQuantity("length", "the coil’s length", 8),
  printed_g: maybeQuantity("mass", "what was printed off it", 50),
  warm: z.boolean(),
  surface_wet: z.boolean(),
  /** Empty while the weighing is meant to be now. */
  at: maybeMoment,
  note: maybeWords,
});

/** The field of the slip that the server means: "readings.1.gross_g" is the first beside it. */
const fieldOf = (field: string) => {
  const [, place] = /^readings\.(\d+)\.gross_g$/.exec(field) ?? [];
  return place === undefined || place === "0" ? undefined : (`others.${Number(place) - 1}` as const);
};

/** Everything a weigh slip knows and does, apart from how it looks. */
export function useSlip(intent: Intent, clientKey: string, onKept: () => void) {
  const queries = useQueryClient();
  const laneQuery = useQuery(lanesQuery);
  const scaleQuery = useQuery(scalesQuery);
  const save = useSave(intent, onKept);
  const [chosen, setChosen] = useState<{ spool?: number; scale?: number }>({});
  const [details, setDetails] = useState(false);
  const beside = intent.kind === "start" ? intent.plan.lanes.slice(1) : [];
  const ofCoil = intent.kind === "end" && intent.run.coil !== null;
  const [keys] = useState(() => beside.map(() => crypto.randomUUID()));
  const form = useActForm(
    SHAPE,
    {
      ...{ gross_g: "", others: beside.map(() => ""), length_m: "", printed_g: "", at: "", note: "" },
      ...{ weighed_object: ofCoil ? ("coil" as const) : ("spool" as const), coil: 0 },
      ...{ warm: false, surface_wet: false },
    },
    fieldOf,
  );
  const { control, set } = form;
  const [typed, object, length] = useWatch({ control, name: ["gross_g", "weighed_object", "length_m"] });
  const gross = parseTyped(typedMass(typed));
  /** Water cannot explain the reading: the server asks what happened. */
  const [asked, setAsked] = useState(false);

  function pick(lanes: Lane[], scales: Scale[]) {
    const lane = lanes.find((lane) => lane.spool.id === chosen.spool) ?? likelySpool(intent, lanes, gross);
    return { lane, scale: scales.find((scale) => scale.id === chosen.scale) ?? likelyScale(scales, lane) };
  }

  const send = async ({ at, length_m, others, ...values }: z.output<typeof SHAPE>, doubtful: boolean) => {
    // Enter may come before the spools do: what was typed waits for them.
    const loaded = await Promise.all([
      queries.query({ ...lanesQuery, staleTime: "static" }),
      queries.query({ ...scalesQuery, staleTime: "static" }),
    ]);
    const { lane, scale } = pick(...loaded);
    if (!lane)
      throw new Error("Needed: which spool it was. Its mass fits none, or several: choose it above.");
    if (loaded[1].length === 0) throw new Error("Needed: the scale that it was weighed on. Add it above.");
    if (!scale) throw new Error("None of your scales carries that much. Add the one it was under Kit.");
    rememberScale(scale);
    const reading = {
      ...values,
      doubtful,
      length_m: values.weighed_object === "coil" ? length_m : null,
      coil: values.weighed_object === "coil" && values.coil > 0 ? values.coil : null,
      scale: scale.id,
      client_key: clientKey,
    };
    const more = beside.flatMap((lane, n) => {
      const [gross_g, client_key] = [others[n], keys[n]];
      if (gross_g == null || client_key === undefined) return [];
      return [{ lane, reading: { ...reading, gross_g, client_key } }];
    });
    try {
      await save({ weighed: [{ lane, reading }, ...more], at });
    } catch (error) {
      setAsked(error instanceof ApiError && error.code === "not_by_water");
      throw error;
    }
  };

  const lanes = laneQuery.data ?? [];
  const scales = scaleQuery.data ?? [];
  return {
    lanes,
    beside,
    scales,
    /** Whether there is none yet: then the one at hand is added first. */
    scaleless: scaleQuery.data?.length === 0,
    ...pick(lanes, scales),
    control,
    typed,
    isCoil: object === "coil",
    /** Whether it may be asked which coil it was: at the end of a run that is known. */
    asksCoil: object === "coil" && !ofCoil,
    length,
    details,
    busy: form.busy,
    problem: form.problem,
    submit: form.submit((values) => send(values, false)),
    /** Save it although water cannot explain it. */
    submitDoubtful: form.submit((values) => send(values, true)),
    asked,
    fits: fitting(lanes, gross),
    gross,
    take: (text: string) => {
      set("gross_g", text);
    },
    choose: (choice: { spool?: number; scale?: number }) => {
      setAsked(false);
      setChosen({ ...chosen, ...choice });
    },
    openDetails: () => {
      setDetails(true);
      set("at", toLocalField(new Date()));
    },
  };
}
