import { useEffect, useRef, useState } from "react";

export type Camera = "starting" | "looking" | "none";

/** A camera's picture in a video element, as long as the page is open. Shows nothing where there is none, where the
 * person says no, or where the browser lends it to safe addresses alone. */
export function useCamera() {
  const video = useRef<HTMLVideoElement>(null);
  const [camera, setCamera] = useState<Camera>("starting");
  useEffect(() => {
    let stream: MediaStream | null = null;
    let gone = false;
    const stop = () => {
      stream?.getTracks().forEach((track) => {
        track.stop();
      });
    };
    async function start() {
      try {
        // Not there at all on an address that is not safe.
        const devices = navigator.mediaDevices as MediaDevices | undefined;
        if (!devices) throw new Error("no camera");
        stream = await devices.getUserMedia({ video: { facingMode: "environment" } });
        if (gone) {
          stop();
          return;
        }
        if (video.current) {
          video.current.srcObject = stream;
          await video.current.play();
        }
        setCamera("looking");
      } catch {
        if (!gone) setCamera("none");
      }
    }
    void start();
    return () => {
      gone = true;
      stop();
    };
  }, []);
  return { video, camera };
}
