import { useQuery } from "@tanstack/react-query";
import { useEffect, useEffectEvent, useState } from "react";
import { Link } from "react-router";
import { Button } from "../../components/Button";
import { Choice } from "../../components/Choice";
import { FilePick } from "../../components/FilePick";
import { PageHeading } from "../../components/PageHeading";
import { link, panel } from "../../components/classes";
import { useShell } from "../../components/shell";
import { useAddress } from "../../components/useAddress";
import { lanes as lanesQuery } from "../rack/queries";
import { readCode, spoolOfCode, TURNS } from "./readCode";
import { useCamera } from "./useCamera";

const LOOK_MS = 200;
const THEN = { move: "move them together", weigh: "weigh each at once" } as const;
type Then = keyof typeof THEN;
const COUNTS = ["", "One label", "Two labels", "Three labels", "Four labels", "Five labels"];

function opening(count: number, camera: string): string {
  if (count > 0) return `${COUNTS[count] ?? `${count} labels`} read.`;
  return camera === "none" ? "Take a picture of a label." : "Point the camera at a label.";
}

/** Labels read by the camera, one after the other: their spools are moved together, or weighed each in its turn. */
export function ScanPage() {
  const { weigh, move } = useShell();
  const { data: lanes } = useQuery(lanesQuery);
  const { video, camera } = useCamera();
  const [then, setThen] = useAddress<Then>("then", "move", Object.keys(THEN) as Then[]);
  const [found, setFound] = useState<number[]>([]);
  const [problem, setProblem] = useState<string>();

  function take(text: string) {
    const spool = spoolOfCode(text);
    const known = lanes?.find((lane) => lane.spool.id === spool);
    if (spool === null || (lanes && !known)) {
      setProblem("This code is of no spool here.");
      return;
    }
    setProblem(undefined);
    if (found.includes(spool)) return;
    setFound([...found, spool]);
    if ("vibrate" in navigator) navigator.vibrate(60);
    if (then === "weigh") weigh({ kind: "keep", spool });
  }

  const look = useEffectEvent((turn: number) => {
    const seen = video.current;
    const text = seen && readCode(seen, seen.videoWidth, seen.videoHeight, [turn]);
    if (text) take(text);
  });
  useEffect(() => {
    if (camera !== "looking") return;
    let looks = 0;
    const timer = setInterval(() => {
      look(TURNS[looks++ % TURNS.length] ?? 0); // one turn a look: a slow phone has time for its picture
    }, LOOK_MS);
    return () => {
      clearInterval(timer);
    };
  }, [camera]);

  async function read(file: File) {
    const picture = await createImageBitmap(file).catch(() => null);
    const text = picture && readCode(picture, picture.width, picture.height);
    if (text) take(text);
    else setProblem("No code is seen on this picture. Go closer, and hold it straight.");
  }

  const named = found
    .map((id) => lanes?.find((lane) => lane.spool.id === id))
    .filter((lane) => lane !== undefined);
  return (
    <>
      <PageHeading page="Scan" className="mb-4">
        {opening(found.length, camera)}
      </PageHeading>
      <div className="grid items-start gap-5 lg:grid-cols-2">
        <div className="flex flex-col gap-3">
          <Choice
            label="Then"
            across
            options={(Object.keys(THEN) as Then[]).map((value) => ({ value, name: THEN[value] }))}
            value={then}
            onChoose={setThen}
          />
          <video
            ref={video}
            muted
            playsInline
            aria-label="What the camera sees"
            className={camera === "looking" ? "aspect-[4/3] w-full bg-head object-cover" : "hidden"}
          />
          {camera === "none" && (
            <p className="text-sm text-muted">
              This page can’t use the camera. A picture of each label works too.
            </p>
          )}
          <FilePick
            label="A picture of a label"
            accept="image/*"
            share={null}
            error={problem}
            onFile={(file) => void read(file)}
            onStop={() => undefined}
          />
        </div>
        <section className={panel}>
          <h2 className="mb-2 text-lg font-bold">Read so far</h2>
          {named.length === 0 && (
            <p className="text-sm text-muted">
              Nothing yet.{" "}
              <Link className={link} to="/labels">
                Print labels
              </Link>{" "}
              for your spools first.
            </p>
          )}
          <ul>
            {named.map((lane) => (
              <li key={lane.spool.id} className="flex items-center gap-4 border-t border-line py-2">
                <div className="grow">
                  <Link className={`${link} font-bold`} to={`/spools/${lane.spool.id}`}>
                    {lane.spool.name}
                  </Link>
                  <p className="text-sm text-muted">
                    {lane.material_short}
                    {lane.place && ` · ${lane.place.name}`}
                  </p>
                </div>
                <Button
                  kind="link"
                  aria-label={`Weigh ${lane.spool.name}`}
                  onClick={() => {
                    weigh({ kind: "keep", spool: lane.spool.id });
                  }}
                >
                  weigh
                </Button>
                <Button
                  kind="link"
                  aria-label={`not this: ${lane.spool.name}`}
                  onClick={() => {
                    setFound(found.filter((id) => id !== lane.spool.id));
                  }}
                >
                  not this
                </Button>
              </li>
            ))}
          </ul>
          {named.length > 0 && (
            <div className="mt-3 flex gap-3">
              <Button
                kind="primary"
                onClick={() => {
                  move(...found);
                }}
              >
                {named.length === 1 ? "Move it" : `Move all ${named.length}`}
              </Button>
              <Button
                kind="quiet"
                onClick={() => {
                  setFound([]);
                }}
              >
                Start over
              </Button>
            </div>
          )}
        </section>
      </div>
    </>
  );
}
