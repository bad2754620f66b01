import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { scales as scalesQuery } from "../equipment/queries";
import { lanes as lanesQuery } from "../rack/queries";
import type { Lane, Scale } from "../../api/client";
import { fromLocalField, toLocalField } from "../../domain/times";
import { typedLength, typedMass } from "../../domain/quantities";
import { parseTyped } from "../../domain/typed";
import { massUnit } from "../../domain/units";
import type { Intent } from "../../components/shell";
import { likelyScale, likelySpool, rememberScale } from "./guesses";
import { useSave } from "./useSave";

/** What else there is to say of a weighing: what hangs on the scale, and what made the reading less sure. */
export interface Said {
  weighed_object: "spool" | "coil";
  length: string;
  warm: boolean;
  surface_wet: boolean;
  note: string;
}

/** Everything a weigh slip knows and does, apart from how it looks. */
export function useSlip(intent: Intent, clientKey: string, onKept: () => void) {
  const queries = useQueryClient();
  const laneQuery = useQuery(lanesQuery);
  const scaleQuery = useQuery(scalesQuery);
  const keep = useSave(intent, onKept);
  const [chosen, setChosen] = useState<{ spool?: number; scale?: number }>({});
  const [typed, setTyped] = useState("");
  const [complaint, setComplaint] = useState<string>();
  const [at, setAt] = useState<string | null>(null);
  const [said, setSaid] = useState<Said>({
    weighed_object: "spool",
    length: "",
    warm: false,
    surface_wet: false,
    note: "",
  });
  const [waiting, setWaiting] = useState(false);

  function pick(lanes: Lane[], scales: Scale[]) {
    const lane = lanes.find((it) => it.spool.id === chosen.spool) ?? likelySpool(intent, lanes);
    return { lane, scale: scales.find((it) => it.id === chosen.scale) ?? likelyScale(scales, lane) };
  }

  async function submit() {
    if (keep.busy || waiting) return;
    if (parseTyped(typed) === null) {
      setComplaint(
        typed.trim() === ""
          ? "Type what the scale reads."
          : `“${typed}” is not a number. Give one in ${massUnit()}, such as 858.4.`,
      );
      return;
    }
    // Enter may come before the spools do: what was typed waits for them.
    setWaiting(true);
    try {
      const loaded = await Promise.all([
        queries.query({ ...lanesQuery, staleTime: "static" }),
        queries.query({ ...scalesQuery, staleTime: "static" }),
      ]);
      const { lane, scale } = pick(...loaded);
      if (!lane || !scale) {
        setComplaint("There is no spool, or no scale that carries it, to keep this for.");
        return;
      }
      rememberScale(scale);
      keep.submit({
        lane,
        reading: {
          scale: scale.id,
          gross_g: typedMass(typed),
          client_key: clientKey,
          note: said.note,
          weighed_object: said.weighed_object,
          length_m:
            said.weighed_object === "coil" && said.length.trim() !== "" ? typedLength(said.length) : null,
          warm: said.warm,
          surface_wet: said.surface_wet,
        },
        at: at === null ? null : fromLocalField(at),
      });
    } catch (error) {
      setComplaint(error instanceof Error ? error.message : String(error));
    } finally {
      setWaiting(false);
    }
  }

  const lanes = laneQuery.data ?? [];
  const scales = scaleQuery.data ?? [];
  const { field, message } = keep.error ?? { field: null, message: undefined };
  return {
    lanes,
    scales,
    ...pick(lanes, scales),
    typed,
    at,
    said,
    busy: keep.busy || waiting,
    errors: {
      gross: complaint ?? (field === "gross_g" ? message : undefined),
      at: field === "at" ? message : undefined,
      length: field === "length_m" ? message : undefined,
      other: ["gross_g", "at", "length_m"].includes(field ?? "") ? undefined : message,
    },
    submit,
    type: (text: string) => {
      setTyped(text);
      setComplaint(undefined);
      keep.forget();
    },
    choose: (choice: { spool?: number; scale?: number }) => {
      setChosen({ ...chosen, ...choice });
      keep.forget();
    },
    openDetails: () => {
      setAt(toLocalField(new Date()));
    },
    setAt: (text: string) => {
      setAt(text);
      keep.forget();
    },
    say: (more: Partial<Said>) => {
      setSaid({ ...said, ...more });
      keep.forget();
    },
  };
}
