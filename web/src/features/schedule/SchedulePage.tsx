import { useQuery } from "@tanstack/react-query";
import { useEffect, useMemo, useState } from "react";
import type { Schedule, Wish } from "../../api/client";
import { useUndo } from "../../app/acts";
import { useWidth } from "../../charts/useWidth";
import { Button } from "../../components/Button";
import { PageHeading } from "../../components/PageHeading";
import { Skeleton } from "../../components/Skeleton";
import { Trouble } from "../../components/Trouble";
import { useShell } from "../../components/shell";
import { clock, when } from "../../domain/times";
import { usePin, useStop, useWorkOut } from "./acts";
import { HoursSlip } from "./HoursSlip";
import { schedule as scheduleQuery } from "./queries";
import { ScheduleChart } from "./ScheduleChart";
import { sceneOf } from "./scene";
import { ScheduleAside } from "./ScheduleAside";
import { VisitList } from "./VisitList";
import { WantedTable } from "./WantedTable";
import { NewWishSlip, WishSlip } from "./WishSlip";
import { lateSentence, scheduleSentence } from "./words";

/** What goes in where and when, so that it is ready? */
export function SchedulePage() {
  const { data, error, refetch } = useQuery(scheduleQuery);
  if (error && !data) return <Trouble error={error} onRetry={refetch} />;
  if (!data) return <Skeleton page="Schedule" rows={4} height="h-24" />;
  return <Days data={data} />;
}

type Open = { kind: "add" } | { kind: "hours" } | { kind: "wish"; wish: Wish } | null;

/** Works the schedule out, and says what it does meanwhile. */
function useWorkedOut(data: Schedule) {
  const work = useWorkOut();
  const { mutate, isPending, isIdle } = work;
  const first = !data.worked_out && data.stale && data.solved_at === null;
  useEffect(() => {
    if (first && isIdle) mutate();
  }, [first, isIdle, mutate]);
  return { workOut: mutate, working: isPending, error: work.error };
}

function Days({ data }: { data: Schedule }) {
  const [open, setOpen] = useState<Open>(null);
  const { workOut, working, error } = useWorkedOut(data);
  const { notify } = useShell();
  const pin = usePin();
  const stop = useStop();
  const undo = useUndo();
  const now = new Date(data.now);
  const close = () => {
    setOpen(null);
  };
  const changed = () => {
    close();
    workOut();
  };
  const move = (wish: number, dryer: number, at: Date) => {
    pin.mutate(
      { id: wish, body: { dryer, at: at.toISOString() } },
      {
        onSuccess: (pinned) => {
          workOut(undefined, {
            onSuccess: () => {
              notify({
                text: `Pinned to ${when(at, now)}; the rest was worked out around it.`,
                undo: pinned.undo,
              });
            },
            onError: () => {
              if (pinned.undo !== null) undo.mutate(pinned.undo);
            },
          });
        },
      },
    );
  };
  const pick = (id: number) => {
    const wish = data.wishes.find((one) => one.id === id);
    if (wish) setOpen({ kind: "wish", wish });
  };
  const refused = error ?? pin.error;
  return (
    <>
      <PageHeading page="Schedule">
        {working ? "Working out what goes in when …" : scheduleSentence(data, now)}
      </PageHeading>
      {working && (
        <Button
          kind="quiet"
          className="mt-2"
          onClick={() => {
            stop.mutate();
          }}
        >
          Stop
        </Button>
      )}
      {!working &&
        data.late.map((late) => (
          <p key={late.spool_name} className="mt-1">
            {lateSentence(late, now)}
          </p>
        ))}
      {refused && (
        <p role="alert" className="mt-2 border-l-4 border-heat bg-paper p-3 font-bold">
          {refused.message} The last schedule stays.
        </p>
      )}
      <Stale data={data} working={working} onWorkOut={workOut} />
      {data.wishes.length === 0 ? (
        <Empty
          onAdd={() => {
            setOpen({ kind: "add" });
          }}
        />
      ) : (
        <div className="mt-4 grid gap-6 lane:grid-cols-[1fr_18rem]">
          <div className="min-w-0">
            <Chart data={data} working={working} onMove={move} onPick={pick} />
            <VisitList data={data} now={now} />
            <WantedTable
              data={data}
              now={now}
              onPick={pick}
              onAdd={() => {
                setOpen({ kind: "add" });
              }}
            />
          </div>
          <ScheduleAside
            data={data}
            now={now}
            working={working}
            onWorkOut={() => {
              workOut();
            }}
            onHours={() => {
              setOpen({ kind: "hours" });
            }}
          />
        </div>
      )}
      {open?.kind === "add" && <NewWishSlip onClose={close} onDone={changed} />}
      {open?.kind === "wish" && <WishSlip wish={open.wish} data={data} onClose={close} onDone={changed} />}
      {open?.kind === "hours" && <HoursSlip data={data} onClose={close} onDone={changed} />}
    </>
  );
}

function Chart(props: {
  data: Schedule;
  working: boolean;
  onMove: (wish: number, dryer: number, at: Date) => void;
  onPick: (wish: number) => void;
}) {
  const { ref, width } = useWidth<HTMLDivElement>(900);
  const scene = useMemo(() => sceneOf(props.data, width), [props.data, width]);
  return (
    <div ref={ref} className="hidden sm:block print:hidden">
      <ScheduleChart {...props} scene={scene} width={width} />
    </div>
  );
}

/** What changed since it was worked out, and the way to a new one. */
function Stale({ data, working, onWorkOut }: { data: Schedule; working: boolean; onWorkOut: () => void }) {
  if (working || !data.stale || data.solved_at === null) return null;
  return (
    <p className="mt-2 flex flex-wrap items-center gap-3 bg-paper p-3 print:hidden">
      {data.worked_out
        ? `Something changed since ${clock(new Date(data.solved_at))}: another schedule may be better now.`
        : "A start was missed, a run ended, or somebody is not at home after all."}
      <Button
        kind="quiet"
        onClick={() => {
          onWorkOut();
        }}
      >
        Work it out again
      </Button>
    </p>
  );
}

function Empty({ onAdd }: { onAdd: () => void }) {
  return (
    <div className="mt-4 max-w-2xl bg-paper p-5">
      <p className="mb-3">
        Darre then finds what goes into which dryer when, so that the spools are ready and nobody has to get
        up at night: with your dryers’ slots and timers, the hours when somebody is at home, and cheap power
        where it helps.
      </p>
      <Button kind="primary" onClick={onAdd}>
        Add a spool
      </Button>
    </div>
  );
}
