"use client";
import { message } from "../../messages/message";
import { useRef, useState } from "react";
import { intersect, type Rectangle } from "../../core/geometry/rectangle";
import { PLACE_AIMS, type PlaceAim } from "../../core/measure/rankPlace";
import { chooseFrames } from "../../document/edits";
import type { FrameRecord } from "../../document/records/types";
import { framesOfSet } from "../../document/selectors";
import type { PlaceRanking, RankedFrame } from "../../engine/operations/gather/rankFrames";
import { edit, openJob } from "../../session/openJob";
import { notify, useSession } from "../../session/store";
import type { PicturePointer } from "../../view/pictureTool";

/** Side of a place that was clicked rather than drawn, as a share of the frame's shorter one. */
const CLICKED = 0.15;
/** What is being done, as it is said. */
const LOOKING = "task.ranking";
/** Drags shorter than this are clicks, px of the frame. */
const LEAST_DRAG = 12;

export type Ranking = ReturnType<typeof useRanking>;

/** A place pointed at, what every frame of the set shows there, and which frames were chosen for it. */
export function useRanking() {
  const [on, setOn] = useState(false);
  const [aim, setAim] = useState<PlaceAim>("sharp");
  const [pointed, setPointed] = useState<{ frame: FrameRecord; place: Rectangle } | null>(null);
  const [found, setFound] = useState<PlaceRanking | null>(null);
  const [picked, setPicked] = useState<ReadonlySet<string>>(new Set());
  const start = useRef<PicturePointer | null>(null);
  const records = useSession((s) => s.records);

  const look = async (frame: FrameRecord, place: Rectangle) => {
    const job = openJob();
    setFound(null);
    const frames = framesOfSet(useSession.getState().records, frame.setId);
    const ranking = await job.run("gather", LOOKING, (signal, onProgress) => job.ask("rankFrames", { frames, pointed: frame, place }, { signal, onProgress }));
    if (ranking) setFound(ranking);
  };
  const drawn = (frame: FrameRecord, p: PicturePointer): Rectangle => {
    const from = start.current!;
    const [w, h] = [Math.abs(p.x - from.x), Math.abs(p.y - from.y)];
    const side = CLICKED * Math.min(frame.width, frame.height);
    const box =
      Math.max(w, h) < LEAST_DRAG
        ? { x: from.x - side / 2, y: from.y - side / 2, width: side, height: side }
        : { x: Math.min(p.x, from.x), y: Math.min(p.y, from.y), width: Math.max(4, w), height: Math.max(4, h) };
    const [x, y] = [Math.round(box.x), Math.round(box.y)];
    return intersect({ x, y, width: Math.round(box.width), height: Math.round(box.height) }, { x: 0, y: 0, width: frame.width, height: frame.height });
  };
  const toolOn = (frame: FrameRecord) => ({
    cursor: "crosshair",
    down: (p: PicturePointer) => {
      start.current = p;
      setPointed({ frame, place: drawn(frame, p) });
    },
    move: (points: PicturePointer[]) => start.current && setPointed({ frame, place: drawn(frame, points.at(-1)!) }),
    up: () => {
      if (!start.current) return;
      start.current = null;
      const { busy } = useSession.getState();
      // frames that are being read or grouped are not stopped for it
      if (busy && busy.what !== LOOKING) return notify("gathering.rankLater");
      if (pointed && pointed.place.width > 0 && pointed.place.height > 0) void look(pointed.frame, pointed.place);
    },
  });

  const { of, more } = PLACE_AIMS[aim];
  const alive = (found?.frames ?? []).filter((f) => records[f.frameId]?.kind === "frame");
  const ordered = [...alive].sort((a, b) => (more ? b[of] - a[of] : a[of] - b[of]) || b.sharpness - a.sharpness);
  return {
    on,
    aim,
    ordered,
    found,
    pointed,
    picked,
    setAim,
    turn: (now: boolean) => {
      setOn(now);
      setPointed(null);
      setFound(null);
      setPicked(new Set());
    },
    toolOn,
    /** where the place lies in a frame */
    placeIn: (frame: FrameRecord): Rectangle | null => {
      if (!on || !pointed) return null;
      return frame.id === pointed.frame.id ? pointed.place : (found?.frames.find((f) => f.frameId === frame.id)?.found ?? null);
    },
    pick: (frames: RankedFrame[], taken: boolean) =>
      setPicked((before) => {
        const next = new Set(before);
        for (const { frameId } of frames)
          if (taken) next.add(frameId);
          else next.delete(frameId);
        return next;
      }),
    /** @returns the first frame of the new set */
    take: (byWhat: string): string | null => {
      const ids = alive.filter((f) => picked.has(f.frameId)).map((f) => f.frameId);
      if (ids.length === 0) return null;
      edit(
        chooseFrames(ids),
        { stage: "gather", label: message("step.chosenAtPlace", { count: ids.length, all: alive.length, by: byWhat }) },
        { measure: false },
      );
      setOn(false);
      setPicked(new Set());
      return ids[0];
    },
  };
}
