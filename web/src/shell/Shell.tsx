import { useQuery } from "@tanstack/react-query";
import { useCallback, useMemo, useRef, useState } from "react";
import { Outlet, useNavigate } from "react-router";
import { lanes, scales } from "../api/queries";
import { WeighSlip } from "../rooms/weigh/WeighSlip";
import { BottomBar } from "./BottomBar";
import { Header } from "./Header";
import { KeysHelp } from "./KeysHelp";
import { NoticeBar } from "./NoticeBar";
import { type Intent, type Notice, ShellContext } from "./shell";
import { useKeys } from "./useKeys";

interface Slip {
  intent: Intent;
  key: string;
}

/** What is the same in every room: header, keys, the weigh slip, and word of what was done. */
export function Shell() {
  const navigate = useNavigate();
  // Asked for at once, so that a weigh slip has its spools and scales before it is opened.
  useQuery(lanes);
  useQuery(scales);
  const looked = useRef<number>(undefined);
  const [slip, setSlip] = useState<Slip | null>(null);
  const [notice, setNotice] = useState<Notice | null>(null);
  const [keysOpen, setKeysOpen] = useState(false);

  const weigh = useCallback((intent?: Intent) => {
    const spool = looked.current;
    setNotice(null);
    setSlip({
      intent: intent ?? (spool === undefined ? { kind: "keep" } : { kind: "keep", spool }),
      key: crypto.randomUUID(),
    });
  }, []);
  const lookAt = useCallback((spool: number | undefined) => {
    looked.current = spool;
  }, []);
  const closeNotice = useCallback(() => {
    setNotice(null);
  }, []);
  const shell = useMemo(() => ({ weigh, lookAt, notify: setNotice }), [weigh, lookAt]);

  useKeys({
    w: () => {
      weigh();
    },
    p: () => void navigate(looked.current === undefined ? "/plan" : `/plan?spool=${looked.current}`),
    "/": () => void navigate("/", { state: { find: Date.now() } }),
    "?": () => {
      setKeysOpen(true);
    },
  });

  return (
    <ShellContext value={shell}>
      <a href="#room" className="absolute -top-20 left-4 z-40 bg-paper p-2 text-ink focus:top-2">
        Skip to the room
      </a>
      <Header
        onKeys={() => {
          setKeysOpen(true);
        }}
      />
      <main id="room" tabIndex={-1} className="mx-auto max-w-[1440px] px-5 pt-4 pb-24 outline-none sm:pb-6">
        <Outlet />
      </main>
      <BottomBar />
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
      {notice && <NoticeBar key={notice.text} notice={notice} onClose={closeNotice} />}
      <KeysHelp
        open={keysOpen}
        onClose={() => {
          setKeysOpen(false);
        }}
      />
    </ShellContext>
  );
}
