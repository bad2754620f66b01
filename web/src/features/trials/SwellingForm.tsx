import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Alert } from "../../components/Alert";
import { Button } from "../../components/Button";
import { Field } from "../../components/Field";
import { Picker } from "../../components/Picker";
import { panel } from "../../components/classes";
import { size, typedMass, typedSize } from "../../domain/quantities";
import { numbersIn } from "../../domain/typed";
import { massUnit, sizeUnit } from "../../domain/units";
import { scales as scalesQuery } from "../equipment/queries";
import { scaleOptions } from "../equipment/words";
import { lanes as lanesQuery } from "../rack/queries";
import { SpoolPicker } from "../spools/SpoolPicker";
import { useBeginTrial } from "./acts";
import { useBegun } from "./useBegun";
import { swellingDesign } from "./queries";
import { swellingPromise } from "./words";

interface Piece {
  mass: string;
  lengths: string;
}

const EMPTY: Piece = { mass: "", lengths: "" };
const PIECES = 3;
const LONG_MM = 100;
const isTyped = (piece: Piece) => piece.mass !== "" || piece.lengths !== "";

/** Pieces whose length is measured before they take up water, with what they will show. */
export function SwellingForm({ asked }: { asked: number | undefined }) {
  const lanes = useQuery(lanesQuery).data ?? [];
  const scales = useQuery(scalesQuery).data ?? [];
  const [spool, setSpool] = useState(asked);
  const [chosen, setChosen] = useState<number>();
  const [pieces, setPieces] = useState<Piece[]>(() => Array.from({ length: PIECES }, () => EMPTY));
  const finest = [...scales].sort((a, b) => a.resolution_g - b.resolution_g)[0];
  const scale = chosen ?? finest?.id;
  const lane = lanes.find((one) => one.spool.id === spool);
  const begin = useBegin(spool, scale, pieces);
  return (
    <div className="grid gap-6 lane:grid-cols-[30rem_1fr]">
      <form
        noValidate
        className={`${panel} flex flex-col gap-3`}
        onSubmit={(event) => {
          event.preventDefault();
          begin.submit();
        }}
      >
        <SpoolPicker label="Printed from" lanes={lanes} lane={lane} onPick={setSpool} />
        <Picker label="Weighed on" value={scale ?? 0} options={scaleOptions(scales)} onChoose={setChosen} />
        {pieces.map((piece, n) => (
          <PieceFields
            key={n}
            nth={n + 1}
            piece={piece}
            onChange={(part) => {
              setPieces(pieces.map((one, at) => (at === n ? { ...one, ...part } : one)));
            }}
          />
        ))}
        {begin.problem !== undefined && <Alert>{begin.problem}</Alert>}
        <div className="flex gap-4">
          <Button kind="primary" type="submit" disabled={begin.busy}>
            Begin
          </Button>
          <Button
            kind="link"
            onClick={() => {
              setPieces([...pieces, EMPTY]);
            }}
          >
            one more piece
          </Button>
        </div>
      </form>
      <SwellingHelp spool={spool} pieces={pieces} />
    </div>
  );
}

interface PieceProps {
  nth: number;
  piece: Piece;
  onChange: (part: Partial<Piece>) => void;
}

function PieceFields({ nth, piece, onChange }: PieceProps) {
  return (
    <fieldset className="grid items-start gap-3 border-t border-line pt-3 sm:grid-cols-[9rem_1fr]">
      <legend className="sr-only">Piece {nth}</legend>
      <Field
        label={`Piece ${nth}, dry`}
        unit={massUnit()}
        inputMode="decimal"
        value={piece.mass}
        onText={(mass) => {
          onChange({ mass });
        }}
      />
      <Field
        label={`Length of piece ${nth}, dry`}
        unit={sizeUnit()}
        inputMode="decimal"
        value={piece.lengths}
        hint={nth === 1 ? "Measured more than once, with spaces between: 99.94 99.96 99.93" : undefined}
        onText={(lengths) => {
          onChange({ lengths });
        }}
      />
    </fieldset>
  );
}

/** What these pieces will show, and how to measure them. */
function SwellingHelp({ spool, pieces }: { spool: number | undefined; pieces: Piece[] }) {
  const typed = pieces.filter(isTyped);
  const lengths = typed.map((piece) => numbersIn(piece.lengths));
  const query = {
    pieces: Math.max(typed.length, 1),
    readings: Math.max(...lengths.map((readings) => readings.length), 1),
    length_mm: typedSize(lengths[0]?.[0] ?? "") || String(LONG_MM),
  };
  const asked = typed.length > 0 ? query : { pieces: PIECES, readings: 5, length_mm: String(LONG_MM) };
  const found = useQuery(swellingDesign(spool, asked));
  return (
    <section className={`${panel} max-w-prose self-start`}>
      <h2 className="mb-1">
        {found.data ? swellingPromise(asked, found.data) : "Choose a spool to see what the pieces will show."}
      </h2>
      {found.error && <p className="font-bold text-heat">{found.error.message}</p>}
      <ol className="mt-3 flex list-decimal flex-col gap-1 pl-5 text-sm">
        <li>
          Print {size(LONG_MM)} bars all alike, or use what you have. Longer bars and more readings show more.
        </li>
        <li>Dry them, let them cool in a closed jar, then weigh them and measure their length here.</li>
        <li>
          Let them lie in the room, in a damp box or in water until their mass stops moving. Weigh and measure
          them again, in as many climates as you like.
        </li>
      </ol>
    </section>
  );
}

/** Sends the pieces that were typed; what is missing is said by name. */
function useBegin(spool: number | undefined, scale: number | undefined, pieces: Piece[]) {
  const begin = useBeginTrial();
  const { problem, setProblem, after } = useBegun("The trial has begun.");
  const submit = () => {
    if (spool === undefined || scale === undefined) {
      setProblem("Needed: the spool that the pieces are printed from.");
      return;
    }
    begin.mutate(
      {
        kind: "swelling",
        spool,
        scale,
        soaked: false,
        note: "",
        samples: pieces.filter(isTyped).map((piece) => ({
          name: "",
          baked: false,
          desiccant: false,
          start_g: typedMass(piece.mass),
          before_mm: numbersIn(piece.lengths).map(typedSize),
        })),
      },
      after,
    );
  };
  return { submit, problem, busy: begin.isPending };
}
