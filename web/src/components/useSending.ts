import { useRef, useState } from "react";

/** A file on its method: how far it is, and the way to stop it. */
export function useSending() {
  const [share, setShare] = useState<number | null>(null);
  const stopper = useRef<AbortController>(undefined);
  return {
    share,
    begin: (file: File) => {
      stopper.current = new AbortController();
      setShare(0);
      return { file, onProgress: setShare, signal: stopper.current.signal };
    },
    end: () => {
      setShare(null);
    },
    stop: () => {
      stopper.current?.abort();
    },
  };
}
