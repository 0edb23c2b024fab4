"use client";
import { sentence } from "../../../messages/sentence";
import { useMemo } from "react";
import { encodeSrgb } from "../../../core/color/srgbCurve";
import { toneResponse as responseOf, type ToneValues } from "../../../core/color/toneCurve";
import { finishLayerOf, mergeOf } from "../../../document/selectors";
import { LineChart, type Series } from "../../../ui/components/LineChart";
import type { AdjustmentControls, ControlsProps } from "../controlling";
import { ValueControls } from "../StandardControls";

const LOWEST_EV = -10;
const HIGHEST_EV = 8;
/** What the shape of Reinhard's curve does not have. */
const OF_TOE_AND_SHOULDER = ["shoulderEv", "toeEv", "toeLiftEv"];

/** The response is drawn above its values. */
function ToneControls(props: ControlsProps) {
  const key = JSON.stringify(props.values);
  const series = useMemo<Series[]>(() => {
    const response = responseOf(JSON.parse(key) as ToneValues);
    const points = Array.from({ length: 91 }, (_, i) => LOWEST_EV + (i * (HIGHEST_EV - LOWEST_EV)) / 90);
    return [
      { label: sentence("adjusting/response"), color: "#141414", points: points.map((ev) => ({ x: ev, y: 255 * Math.min(1, encodeSrgb(response(2 ** ev))) })) },
    ];
  }, [key]);
  return (
    <>
      <LineChart
        summary={sentence("adjusting/srgbOnScreenBy")}
        series={series}
        xTitle={sentence("adjusting/sceneEvAgainstWhite")}
        yTitle="sRGB"
        xMin={LOWEST_EV}
        xMax={HIGHEST_EV}
        xStep={2}
        yMax={255}
        height={104}
      />
      <ValueControls adjustment="toneResponse" {...props} shows={(name) => props.values.curve === 1 || !OF_TOE_AND_SHOULDER.includes(name)} />
    </>
  );
}

/** A display-linear merge has no scene light to be brought to a screen, and twice is once too often. */
export const toneResponse: AdjustmentControls = {
  Controls: ToneControls,
  isOffered: (records) => mergeOf(records)?.method === "radiance" && !finishLayerOf(records, "toneResponse"),
};
