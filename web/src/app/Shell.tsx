import { useQuery } from "@tanstack/react-query";
import { Suspense, useCallback, useMemo, useRef, useState } from "react";
import { Outlet, useLocation, useNavigate } from "react-router";
import { scales } from "../features/equipment/queries";
import { lanes } from "../features/rack/queries";
import { session } from "../features/people/queries";
import { preferences } from "../features/settings/queries";
import { OutboxBar } from "../features/outbox/OutboxBar";
import { WeighSlip } from "../features/weighing/WeighSlip";
import { BackupSlip, OpenCaseSlip, PreferencesSlip } from "./rooms";
import { MoveSlip } from "../features/rack/MoveSlip";
import { Skeleton } from "../components/Skeleton";
import { BottomBar } from "./BottomBar";
import { Header } from "./Header";
import { KeysHelp } from "./KeysHelp";
import { Notices } from "./Notices";
import { StaleBar } from "./StaleBar";
import { FIND_ID, type Intent, type Notice, ShellContext } from "../components/shell";
import { PageGuard } from "./PageGuard";
import { UnitsContext } from "./units";
import { setUnits } from "../domain/units";
import type { Preferences } from "../api/client";
import { useKeys } from "./useKeys";
import { useReminders } from "./useReminders";

interface Slip {
  intent: Intent;
  key: string;
}

/** Puts the person's units in force; what they are, as one word. */
function inForce(mine: Preferences): string {
  setUnits({ temp: mine.temp_unit, mass: mine.mass_unit, length: mine.length_unit, clock: mine.clock });
  return [mine.temp_unit, mine.mass_unit, mine.length_unit, mine.clock].join(" ");
}

/** The spool whose page the address is, so that a key pressed before the page has loaded means that spool too. */
function spoolOf(path: string): number | undefined {
  const found = /^\/spools\/(\d+)/.exec(path);
  return found ? Number(found[1]) : undefined;
}

/** What a weigh slip needs, asked for before it is opened. By itself, as whatever asks is drawn again with each answer. */
function AtHand() {
  useQuery(lanes);
  useQuery(scales);
  return null;
}

/** What is the same on every page: header, keys, the weigh slip, and word of what was done. */
export function Shell() {
  const navigate = useNavigate();
  const { pathname } = useLocation();
  const looked = useRef<number>(undefined);
  const atHand = useCallback(() => looked.current ?? spoolOf(window.location.pathname), []);
  const [slip, setSlip] = useState<Slip | null>(null);
  const [notice, setNotice] = useState<Notice | null>(null);
  const [reminders, setReminders] = useState<readonly string[]>([]);
  const [moving, setMoving] = useState<number[] | null>(null);
  const [bad, setBad] = useState<{ spool: number | undefined; print: number | undefined } | null>(null);
  const [keysOpen, setKeysOpen] = useState(false);
  const [preferencesOpen, setPreferencesOpen] = useState(false);
  const [backupsOpen, setBackupsOpen] = useState(false);
  const mine = useQuery(preferences);
  const { data: me } = useQuery(session);
  // Before anything below is drawn: every number is written in the person's units.
  const units = mine.data ? inForce(mine.data) : "";

  const weigh = useCallback(
    (intent?: Intent) => {
      const spool = atHand();
      setNotice(null);
      setSlip({
        intent: intent ?? (spool === undefined ? { kind: "keep" } : { kind: "keep", spool }),
        key: crypto.randomUUID(),
      });
    },
    [atHand],
  );
  const move = useCallback(
    (...spools: number[]) => {
      setNotice(null);
      const here = atHand();
      setMoving(spools.length > 0 || here === undefined ? spools : [here]);
    },
    [atHand],
  );
  const badPrint = useCallback(
    (spool?: number, print?: number) => {
      setNotice(null);
      setBad({ spool: spool ?? atHand(), print });
    },
    [atHand],
  );
  const lookAt = useCallback((spool: number | undefined) => {
    looked.current = spool;
  }, []);
  const instead = useRef<(() => void) | null>(null);
  const weighHere = useCallback((act: (() => void) | null) => {
    instead.current = act;
  }, []);
  const closeNotice = useCallback(() => {
    setNotice(null);
  }, []);
  // Kept, so that the bars are not drawn anew whenever a slip opens.
  const openBackups = useCallback(() => {
    setBackupsOpen(true);
  }, []);
  const openKeys = useCallback(() => {
    setKeysOpen(true);
  }, []);
  const openPreferences = useCallback(() => {
    setPreferencesOpen(true);
  }, []);
  const shell = useMemo(
    () => ({ weigh, weighHere, move, badPrint, lookAt, notify: setNotice }),
    [weigh, weighHere, move, badPrint, lookAt],
  );

  useReminders(
    useCallback((text: string) => {
      setReminders((others) => [...others.filter((other) => other !== text), text]);
    }, []),
  );

  useKeys({
    w: () => {
      if (instead.current) instead.current();
      else weigh();
    },
    m: () => {
      move();
    },
    b: () => {
      badPrint();
    },
    p: () => {
      const spool = atHand();
      void navigate(spool === undefined ? "/plan" : `/plan?spool=${spool}`);
    },
    "/": () => {
      // At once where the field is there, so that what is typed next lands in it.
      const field = document.getElementById(FIND_ID);
      if (field) field.focus();
      else void navigate("/", { state: { find: Date.now() } });
    },
    "?": () => {
      setKeysOpen(true);
    },
  });

  const waiting = <Skeleton page="" rows={4} height="h-16" />;
  return (
    <ShellContext value={shell}>
      <a href="#page" className="absolute -top-20 left-4 z-40 bg-paper p-2 text-ink focus:top-2 max-sm:py-3">
        Skip to the page
      </a>
      <Header onBackups={openBackups} onKeys={openKeys} onPreferences={openPreferences} />
      <StaleBar />
      <OutboxBar />
      {me?.role === "guest" && (
        <p className="bg-paper px-5 py-1 text-center text-sm print:hidden">
          You are here as a guest: you may look, not change.
        </p>
      )}
      <main id="page" tabIndex={-1} className="mx-auto max-w-[1440px] px-5 pt-4 pb-24 outline-none sm:pb-6">
        {mine.isPending ? (
          waiting
        ) : (
          <PageGuard key={pathname}>
            <Suspense fallback={waiting}>
              <UnitsContext value={units}>
                <Outlet />
              </UnitsContext>
            </Suspense>
          </PageGuard>
        )}
      </main>
      <BottomBar />
      <AtHand />
      {slip && (
        <WeighSlip
          key={slip.key}
          clientKey={slip.key}
          intent={slip.intent}
          onClose={() => {
            setSlip(null);
          }}
        />
      )}
      {moving && (
        <MoveSlip
          asked={moving}
          onClose={() => {
            setMoving(null);
          }}
        />
      )}
      {bad && (
        <Suspense>
          <OpenCaseSlip
            spool={bad.spool}
            print={bad.print}
            onClose={() => {
              setBad(null);
            }}
          />
        </Suspense>
      )}
      <Notices
        done={notice}
        onClose={closeNotice}
        reminders={reminders}
        onDismiss={(text) => {
          setReminders((others) => others.filter((other) => other !== text));
        }}
      />
      <Suspense>
        {backupsOpen && (
          <BackupSlip
            onClose={() => {
              setBackupsOpen(false);
            }}
          />
        )}
        {preferencesOpen && mine.data && (
          <PreferencesSlip
            preferences={mine.data}
            onClose={() => {
              setPreferencesOpen(false);
            }}
          />
        )}
      </Suspense>
      {keysOpen && (
        <KeysHelp
          onClose={() => {
            setKeysOpen(false);
          }}
        />
      )}
    </ShellContext>
  );
}
