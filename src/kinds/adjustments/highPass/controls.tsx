"use client";
import type { AdjustmentControls } from "../controlling";
import { standard } from "../StandardControls";

export const highPass: AdjustmentControls = { ...standard("highPass"), mode: "softLight", begin: () => Promise.resolve({ amount: 1 }) };
