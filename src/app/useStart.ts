"use client";
import { sentence, title } from "../messages/sentence";
import { leaveControl } from "../session/leaveControl";
import { useEffect, useRef, useState } from "react";
import { jobOf } from "../document/selectors";
import { openDemo } from "../session/demos";
import { navigate, type AddressLine } from "../session/navigation";
import { keepOffline } from "../session/offline";
import { keepPictures } from "../session/picturing";
import { wasShown } from "../session/showing";
import { mayBeLeft, notify, useSession } from "../session/store";
import { NOT_KEPT, RECEIVED_QUERY, takeReceived } from "../storage/receivedFiles";
import { recallKeys } from "../view/keys";
import { recallPanels } from "../view/panels";
import { receive } from "./receive";

/** The browser's own address line. */
const ADDRESS_LINE: AddressLine = {
  path: () => location.pathname + location.search,
  push: (path) => history.pushState(null, "", path),
  replace: (path) => history.replaceState(null, "", path),
  onMove: (moved) => {
    const left = () => {
      leaveControl();
      moved();
    };
    addEventListener("popstate", left);
    return () => removeEventListener("popstate", left);
  },
};

/** A small picture as a file of the browser's own making. */
async function packPicture(rgba: Uint8ClampedArray<ArrayBuffer>, width: number, height: number): Promise<Blob> {
  const canvas = new OffscreenCanvas(width, height);
  canvas.getContext("2d")!.putImageData(new ImageData(rgba, width, height), 0, 0);
  return canvas.convertToBlob({ type: "image/jpeg", quality: 0.85 });
}

/** Shows what the address leads to, a demo where it asks for one, and keeps address and title the same as what is shown. */
export function useStart() {
  const jobId = useSession((s) => s.jobId);
  const stage = useSession((s) => s.stage);
  const name = useSession((s) => jobOf(s.records)?.name);
  const [ready, setReady] = useState(false);
  const begun = useRef(false);
  useEffect(() => {
    if (begun.current) return;
    begun.current = true;
    recallPanels();
    recallKeys();
    keepPictures(packPicture);
    if (process.env.NODE_ENV === "production" && "serviceWorker" in navigator) void keepOffline(navigator.serviceWorker).catch(() => undefined);
    void navigate(ADDRESS_LINE, async () => (await openReceived()) || openWantedDemo()).finally(() => {
      setReady(true);
      // what is opened by the system would else meet an address that is still being gone to
      (window as Launched).launchQueue?.setConsumer(({ files }) => void Promise.all(files.map((f) => f.getFile())).then(receive));
    });
  }, []);
  useEffect(() => {
    document.title = jobId ? `${name ?? sentence("shell/job")} · ${title(`stage.${stage}`)} · Marsh` : "Marsh";
  }, [jobId, name, stage]);
  // an effect runs only where everything could be drawn
  useEffect(() => {
    if (jobId) wasShown();
  }, [jobId]);
  useEffect(() => {
    addEventListener("beforeunload", askBeforeLeaving);
    return () => removeEventListener("beforeunload", askBeforeLeaving);
  }, []);
  return { jobId, stage, ready };
}

/** Whoever leaves while the last step is not stored yet is asked first, in the browser's own words; it is mostly stored before the answer. */
function askBeforeLeaving(event: BeforeUnloadEvent): void {
  if (mayBeLeft(useSession.getState())) return;
  event.preventDefault();
}

/** Files that the system opens with Marsh where it is installed. @see File Handling API */
type Launched = Window & { launchQueue?: { setConsumer(take: (launch: { files: FileSystemFileHandle[] }) => void): void } };

/** Takes in what the system's share sheet brought. */
async function openReceived(): Promise<boolean> {
  const received = new URLSearchParams(location.search).get(RECEIVED_QUERY);
  if (received === null) return false;
  if (received === NOT_KEPT) notify("sharing.notKept");
  const files = await takeReceived();
  if (files.length > 0) void receive(files);
  return files.length > 0;
}

/** "?demo=NAME" in the address: that demo job. */
async function openWantedDemo(): Promise<boolean> {
  const wanted = new URLSearchParams(location.search).get("demo");
  return wanted !== null && openDemo(wanted);
}
