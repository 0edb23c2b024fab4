"use client";
import { useEffect, useRef, useState } from "react";
import { toFrame, undistort } from "../../core/geometry/lens";
import { IDENTITY, invert, project } from "../../core/geometry/matrix3";
import { fitPoints } from "../../core/register/models";
import type { RegionShape } from "../../core/register/regions";
import { addRegion } from "../../document/edits";
import type { FrameRecord, RegistrationRecord } from "../../document/records/types";
import { activeFramesOf, frameNumber, geometryOf, pinsOf, regionsOf, registrationOf } from "../../document/selectors";
import type { CompareMode } from "../../engine/operations/compareViews";
import type { ViewSpec } from "../../engine/operations/renderView";
import { register } from "../../session/actions";
import { engine } from "../../session/engine";
import { edit, report, setStage, useSession } from "../../session/session";
import { Button, PrimaryButton } from "../../ui/components/Button";
import { Heading, RowOf, Section, Soft } from "../../ui/components/panels";
import { PictureView, type PicturePointer, type PictureTool } from "../../view/PictureView";
import { EmptyPicture, StageLayout } from "../../view/StageLayout";
import { ViewChoices } from "../../view/ViewChoices";
import { CommonAreaSection, keepPlace } from "./CommonAreaSection";
import { cornersOf, shifted, turned, withCorner } from "./handMoves";
import { HandSection, type HandWork } from "./HandSection";
import { Corners, CropOutline, Points, Regions, ResidualMap } from "./overlays";
import { PlacementBench } from "./PlacementBench";
import { PlacementLedger } from "./PlacementLedger";
import { RegionSection, type Marking } from "./RegionSection";
import { useFigures } from "./useFigures";

type Shown = CompareMode | "reference" | "residual";
const LABELS: { id: Shown; label: string }[] = [
  { id: "reference", label: "Reference" },
  { id: "difference", label: "Difference" },
  { id: "edges", label: "Edges" },
  { id: "checker", label: "Checker" },
  { id: "residual", label: "Residual" },
];
const LEGENDS: Partial<Record<Shown, string>> = {
  difference: "Black where the frames agree after equal exposure, or hold no usable light; white at 1 EV.",
  edges: "Outlines of the reference dark, of the frame light; where they meet they cancel.",
  checker: "Squares of frame and reference in turn, after equal exposure.",
  residual: "1 px left would be a line of 60 px on the screen; a cross marks a place that disagrees.",
};

/** How far the frames were apart, what is left, what has to line up, and the crop that holds no empty pixel. */
export function RegisterStage() {
  const records = useSession((s) => s.records);
  const registration = registrationOf(records);
  const frames = activeFramesOf(records);
  const reference = frames.find((f) => f.id === registration?.referenceId);
  return registration && reference ? (
    <Registered key={registration.setId} registration={registration} frames={frames} reference={reference} />
  ) : (
    <Unregistered frames={frames.length} />
  );
}

function Unregistered({ frames }: { frames: number }) {
  const { busy, readOnly } = useSession();
  return (
    <StageLayout
      ledger={
        <Section>
          <Heading>{frames} frames to register</Heading>
          <Soft>Shift, turn, scale and what is left over will be listed here for each frame.</Soft>
        </Section>
      }
      bench={
        <Section>
          <Heading>How it works</Heading>
          <Soft>
            Frames that are near in exposure, or neighbours in a row, are compared to a fraction of a pixel, and all are refined together. The simplest model
            that explains the differences is taken. A frame that fits nowhere is left out with its reason.
          </Soft>
        </Section>
      }
    >
      <EmptyPicture
        title={frames < 2 ? "Registering needs at least two frames" : "The frames are not registered yet"}
        action={
          frames < 2 ? (
            <PrimaryButton onPress={() => setStage("gather")}>Go to Gather</PrimaryButton>
          ) : (
            <PrimaryButton isDisabled={busy !== null || readOnly} onPress={() => void register()}>
              Register {frames} frames
            </PrimaryButton>
          )
        }
      >
        Even a tripod moves. Marsh measures how far each frame is off and puts it in place.
      </EmptyPicture>
    </StageLayout>
  );
}

function Registered({ registration, frames, reference }: { registration: RegistrationRecord; frames: FrameRecord[]; reference: FrameRecord }) {
  const { records, busy, readOnly } = useSession();
  const [chosenId, setChosen] = useState<string | null>(null);
  const [shown, setShown] = useState<Shown>("frame");
  const [held, setHeld] = useState(false);
  const [hand, setHand] = useState<HandWork | null>(null);
  const [marking, setMarking] = useState<Marking | null>(null);
  const [keeping, setKeeping] = useState(false);
  const [draft, setDraft] = useState<RegionShape | null>(null);
  const candidates = registration.placements.filter((p) => p.frameId !== registration.referenceId);
  const chosen = registration.placements.find((p) => p.frameId === chosenId) ?? candidates[0] ?? registration.placements[0];
  const frame = frames.find((f) => f.id === chosen.frameId) ?? reference;
  const isReference = frame.id === reference.id;
  const work = hand?.frameId === frame.id ? hand : null;
  const figures = useFigures(records, frame.id, work?.placing ?? null);
  const regions = regionsOf(records);
  const placing = work?.placing ?? { matrix: chosen.matrix ?? IDENTITY, lens: chosen.lens };
  const comparable = !isReference && (chosen.registered || work !== null);
  const points = work?.tool === "points" ? work : null;

  useHold(setHeld);
  useArrowKeys(work, setHand);
  useEffect(() => {
    const onEscape = (e: KeyboardEvent) => {
      if (e.key !== "Escape") return;
      setMarking(null);
      setKeeping(false);
      setDraft(null);
    };
    window.addEventListener("keydown", onEscape);
    return () => window.removeEventListener("keydown", onEscape);
  }, []);

  const mode: CompareMode = shown === "reference" || shown === "residual" ? "frame" : shown;
  const referenceView: ViewSpec = { kind: "source", frameId: reference.id };
  const frameView: ViewSpec = { kind: "placing", frameId: frame.id, referenceId: reference.id, placing, mode };
  const view = held || shown === "reference" || !comparable ? referenceView : frameView;
  const markTool = useMarkTool(marking, draft, setDraft, setMarking);
  const handTool = useHandTool(work, frame, reference, setHand);
  const keepTool: PictureTool | null = keeping ? { cursor: "crosshair", down: (p) => (keepPlace(p.x, p.y), setKeeping(false)) } : null;
  const begin = () => setHand({ frameId: frame.id, tool: chosen.registered ? "move" : "points", placing, points: chosen.points });
  const choose = (id: string) => (setChosen(id), setHand(null));
  const places = (pane: 0 | 1) =>
    (points?.points ?? []).map(([x, y, u, v], i) => {
      if (pane === 0) return { x, y, label: String(i + 1) };
      const [px, py] = project(placing.matrix, ...undistort(placing.lens, frame, u, v));
      return { x: px, y: py, label: String(i + 1) };
    });
  return (
    <StageLayout
      ledger={<PlacementLedger frames={frames} registration={registration} chosen={chosen} onChoose={choose} />}
      bench={
        work ? (
          <HandSection
            work={work}
            number={frameNumber(records, frame.id)}
            frame={frame}
            reference={reference}
            figures={figures}
            regions={regions}
            busy={busy !== null || readOnly}
            onWork={setHand}
          />
        ) : (
          <>
            <PlacementBench registration={registration} chosen={chosen} onHand={begin} />
            <RegionSection
              regions={regions}
              marking={marking}
              placement={chosen}
              isDisabled={busy !== null || readOnly}
              onMark={setMarking}
              onRegister={() => void register(registration.referenceId)}
            />
            <CommonAreaSection
              records={records}
              registration={registration}
              reference={reference}
              readOnly={readOnly}
              keeping={keeping}
              onKeeping={setKeeping}
            />
            <Section>
              <RowOf style={{ marginTop: 0 }}>
                <PrimaryButton onPress={() => setStage("merge")}>Go to Merge</PrimaryButton>
                <Button isDisabled={busy !== null || readOnly} onPress={() => void register(registration.referenceId)}>
                  Register again
                </Button>
              </RowOf>
            </Section>
          </>
        )
      }
      bar={
        <ViewChoices<Shown>
          views={[
            { id: "frame", label: `Frame ${frameNumber(records, frame.id)}` },
            ...LABELS.map((l) => ({ ...l, isDisabled: !comparable && l.id !== "reference" })),
          ]}
          chosen={shown}
          onChoose={setShown}
        />
      }
      readout={
        <Legend
          text={
            marking ? markHint(marking) : points ? "The same place carries the same number on both sides." : (LEGENDS[shown] ?? "Hold c to see the reference.")
          }
        />
      }
    >
      <PictureView
        name={shown === "difference" ? "Difference in EV" : "Registered frame"}
        panes={
          points
            ? [
                { view: referenceView, records, label: "Reference" },
                { view: { ...frameView, mode: "frame" }, records, label: `Frame ${frameNumber(records, frame.id)}` },
              ]
            : [{ view, records, label: "" }]
        }
        arrangement={points ? "side" : "single"}
        size={reference}
        tool={markTool ?? keepTool ?? handTool}
        overlay={(at, scale, pane) => (
          <>
            {!work && <CropOutline at={at} crop={geometryOf(records)?.crop ?? registration.proposedCrop} />}
            {!work && pinsOf(records).some((p) => p.purpose === "stay") && (
              <Points
                at={at}
                places={pinsOf(records)
                  .filter((p) => p.purpose === "stay")
                  .map((p, i) => ({ x: p.x, y: p.y, label: `stays ${i + 1}` }))}
              />
            )}
            <Regions at={at} scale={scale} regions={regions} draft={draft} />
            {work?.tool === "corners" && <Corners at={at} corners={cornersOf(placing.matrix, frame)} />}
            {points && <Points at={at} places={places(pane)} />}
            {shown === "residual" && comparable && (
              <ResidualMap at={at} shifts={work ? (figures?.shifts ?? []).map((s) => [s.x, s.y, s.dx, s.dy, s.correlation]) : chosen.shifts} />
            )}
          </>
        )}
      />
    </StageLayout>
  );
}

function Legend({ text }: { text: string }) {
  return <Soft style={{ padding: "6px 12px", minHeight: 30 }}>{text}</Soft>;
}

function markHint(m: Marking): string {
  const what = m.purpose === "lineUp" ? "what has to line up" : "what must not count";
  return m.with === "box" ? `Draw a box around ${what}. Escape ends it.` : `Paint over ${what}. Escape ends it.`;
}

/** Shows the reference while c is held. */
function useHold(set: (on: boolean) => void): void {
  useEffect(() => {
    const on = (e: KeyboardEvent) => {
      if (e.key === "c" && !e.repeat && !(e.target as HTMLElement).closest("input, select, textarea")) set(true);
    };
    const off = (e: KeyboardEvent) => e.key === "c" && set(false);
    window.addEventListener("keydown", on);
    window.addEventListener("keyup", off);
    return () => {
      window.removeEventListener("keydown", on);
      window.removeEventListener("keyup", off);
    };
  }, [set]);
}

const ARROWS: Record<string, [number, number]> = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };

/** Arrow keys move a frame that is placed by hand: 0.1 px, with shift 1 px. */
function useArrowKeys(work: HandWork | null, set: (w: HandWork) => void): void {
  useEffect(() => {
    if (!work) return;
    const onKey = (e: KeyboardEvent) => {
      const arrow = ARROWS[e.key];
      if (!arrow || (e.target as HTMLElement).closest("input, select, textarea, tr, [role=slider]")) return;
      e.preventDefault();
      const step = e.shiftKey ? 1 : 0.1;
      set({ ...work, placing: { ...work.placing, matrix: shifted(work.placing.matrix, arrow[0] * step, arrow[1] * step) } });
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, [work, set]);
}

/** Draws a region: a box between two corners, or a stroke. */
function useMarkTool(
  marking: Marking | null,
  draft: RegionShape | null,
  setDraft: (s: RegionShape | null) => void,
  setMarking: (m: Marking | null) => void,
): PictureTool | null {
  const from = useRef<PicturePointer | null>(null);
  if (!marking) return null;
  const brushPx = 60;
  const finish = () => {
    const enough = draft && (draft.kind === "brush" || (draft.rectangle.width >= 12 && draft.rectangle.height >= 12));
    if (enough) {
      const what = marking.purpose === "lineUp" ? "Marked what has to line up" : "Marked what is ignored";
      edit(addRegion({ purpose: marking.purpose, shape: draft }), { stage: "register", label: what });
      setMarking(null);
    }
    from.current = null;
    setDraft(null);
  };
  return {
    cursor: "crosshair",
    ring: marking.with === "brush" ? brushPx : undefined,
    down: (p) => {
      from.current = p;
      if (marking.with === "brush") setDraft({ kind: "brush", points: [Math.round(p.x), Math.round(p.y)], diameterPx: brushPx });
    },
    move: (list) => {
      const start = from.current;
      const last = list[list.length - 1];
      if (!start || !last) return;
      if (marking.with === "brush") {
        const before = draft?.kind === "brush" ? draft.points : [];
        setDraft({ kind: "brush", points: [...before, Math.round(last.x), Math.round(last.y)], diameterPx: brushPx });
        return;
      }
      const x = Math.max(0, Math.round(Math.min(start.x, last.x)));
      const y = Math.max(0, Math.round(Math.min(start.y, last.y)));
      const width = Math.max(1, Math.round(Math.abs(last.x - start.x)));
      const height = Math.max(1, Math.round(Math.abs(last.y - start.y)));
      setDraft({ kind: "box", rectangle: { x, y, width, height } });
    },
    up: finish,
  };
}

/** Moves, turns, bends a frame or sets control points. */
function useHandTool(work: HandWork | null, frame: FrameRecord, reference: FrameRecord, set: (w: HandWork | null) => void): PictureTool | null {
  const grip = useRef<{ start: PicturePointer; placing: HandWork["placing"]; corner: number } | null>(null);
  const records = useSession((s) => s.records);
  const latest = useRef(work);
  useEffect(() => {
    latest.current = work;
  }, [work]);
  if (!work) return null;
  if (work.tool === "points") {
    /** The frame follows its points at once. */
    const withPoints = (now: HandWork, points: number[][]) => {
      const fit = fitPoints(points, reference, frame, now.placing.lens);
      set({ ...now, points, placing: fit ? { ...now.placing, matrix: invert(fit.matrix) } : now.placing });
    };
    const snap = async (index: number, x: number, y: number, u: number, v: number) => {
      try {
        const found = await engine.call("snapPoint", { records, frameId: frame.id, placing: work.placing, point: { x, y }, guess: { u, v } });
        const now = latest.current;
        if (!now || !found) return;
        withPoints(
          now,
          now.points.map((p, i) => (i === index ? [x, y, found.u, found.v] : p)),
        );
      } catch (error) {
        report(error);
      }
    };
    return {
      cursor: "crosshair",
      beside: true,
      down: (p) => {
        const [u, v] = toFrame(invert(work.placing.matrix), work.placing.lens, frame, p.x, p.y);
        if (p.pane === 0) {
          withPoints(work, [...work.points, [p.x, p.y, u, v]]);
          void snap(work.points.length, p.x, p.y, u, v);
        } else if (work.points.length > 0) {
          // a click on the right corrects the point it hits, else the newest
          const distances = work.points.map((q) => Math.hypot(q[2] - u, q[3] - v));
          const hit = distances.indexOf(Math.min(...distances));
          const index = distances[hit] < frame.width / 100 ? hit : work.points.length - 1;
          const [x, y] = work.points[index];
          withPoints(
            work,
            work.points.map((q, i) => (i === index ? [x, y, u, v] : q)),
          );
          void snap(index, x, y, u, v);
        }
      },
    };
  }
  const [cx, cy] = [(reference.width - 1) / 2, (reference.height - 1) / 2];
  return {
    cursor: work.tool === "move" ? "move" : "default",
    down: (p) => {
      const distances = cornersOf(work.placing.matrix, frame).map(([x, y]) => Math.hypot(x - p.x, y - p.y));
      grip.current = { start: p, placing: work.placing, corner: distances.indexOf(Math.min(...distances)) };
    },
    move: (list) => {
      const last = list[list.length - 1];
      const g = grip.current;
      if (!g || !last) return;
      const { matrix } = g.placing;
      const { start } = g;
      const angle = (Math.atan2(last.y - cy, last.x - cx) - Math.atan2(start.y - cy, start.x - cx)) * (180 / Math.PI);
      const scale = Math.hypot(last.x - cx, last.y - cy) / Math.max(1, Math.hypot(start.x - cx, start.y - cy));
      const moved =
        work.tool === "move"
          ? shifted(matrix, last.x - start.x, last.y - start.y)
          : work.tool === "turn"
            ? turned(matrix, angle, Math.min(2, Math.max(0.5, scale)), cx, cy)
            : withCorner(matrix, frame, g.corner, last.x, last.y);
      set({ ...work, placing: { ...g.placing, matrix: moved } });
    },
    up: () => {
      grip.current = null;
    },
  };
}
