import type { NewFrame } from "../../src/document/edits";
import type { StrokeRecord } from "../../src/document/records/types";

/** An imported frame whose values nothing depends on but those given. */
export function newFrame(over: Partial<NewFrame> = {}): NewFrame {
  return {
    sourceId: "a".repeat(64),
    quarterTurns: 0,
    fileName: "a.jpg",
    format: "JPEG",
    alpha: null,
    width: 300,
    height: 200,
    bits: 8,
    colorName: "sRGB",
    exposureTimeS: 0.01,
    aperture: 8,
    iso: 100,
    focalLengthMm: 24,
    focalLength35Mm: null,
    takenAt: null,
    make: null,
    model: null,
    copyright: null,
    software: null,
    meteredEv: -12,
    notes: [],
    measures: {
      clippedHigh: [0, 0, 0],
      clippedLow: [0, 0, 0],
      noiseSigma: 1,
      noiseAt: 0.2,
      edgeWidthPx: 1.5,
      brightness: 0.2,
      sharpness: [],
      stars: 0,
      plainBorder: 0,
    },
    ...over,
  };
}

/** A full stroke on part "p" of layer "l", of which only what is given matters. */
export function newStroke(over: Partial<StrokeRecord> = {}): StrokeRecord {
  const placed = { kind: "stroke" as const, id: "s", index: 0, layerId: "l", partId: "p" };
  return { ...placed, reveal: true, diameterPx: 9, softness: 1, flow: 1, opacity: 1, edgeTolerance: 0, spacing: 0.08, points: [1, 2, 1], ...over };
}
