"use client";
import { mergeOf } from "../../../document/selectors";
import type { AdjustmentControls } from "../controlling";
import { standard } from "../StandardControls";

/** A display-linear merge has no scene light to be brought to a screen. */
export const toneResponse: AdjustmentControls = { ...standard("toneResponse"), isOffered: (records) => mergeOf(records)?.method === "radiance" };
