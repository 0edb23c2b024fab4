"use client";
import { sentence } from "../../../messages/sentence";
import { message } from "../../../messages/message";
import { fitLayer } from "../../../session/fitting";
import { useSession } from "../../../session/store";
import { Button, TextButton } from "../../../ui/components/Button";
import { Facts, RowOf, Soft } from "../../../ui/components/panels";
import { percent, plain, signed, withUnit } from "../../../ui/format";
import type { ControlsProps } from "../controlling";
import { setContent } from "../setContent";
import type { FrameContent } from "./record";

/** Light that differs by less is the same, EV. Common practice, no source. */
const SAME_EV = 0.02;

/** Registers a picture onto what lies below it, and says how the two compare. */
export function FitControls({ layer, content, isDisabled }: ControlsProps<FrameContent>) {
  const isBusy = useSession((s) => s.busy !== null);
  const { fit } = content;
  const even = fit ? Math.round(-100 * fit.lightEv) / 100 : 0;
  return (
    <>
      <RowOf>
        <Button isDisabled={isDisabled || isBusy} onPress={() => void fitLayer(layer)}>
          {sentence("layering/fitBelow")}
        </Button>
        {fit && Math.abs(even - content.exposureEv) > SAME_EV && (
          <TextButton isDisabled={isDisabled} onPress={() => setContent(layer, { ...content, exposureEv: even }, message("step.layerExposure", { ev: even }))}>
            {sentence("layering/evenLight")}
          </TextButton>
        )}
      </RowOf>
      {fit ? (
        <Facts aria-label={sentence("layering/howItFits")}>
          <dt>{sentence("swapping/left")}</dt>
          <dd>{withUnit(plain(fit.residualPx, 2), "px")}</dd>
          <dt>{sentence("swapping/agreeing")}</dt>
          <dd>{percent(fit.agreeing)}</dd>
          <dt>{sentence("layering/lightAgainst")}</dt>
          <dd>{withUnit(signed(fit.lightEv, 2), "EV")}</dd>
          <dt>{sentence("layering/redBlueAgainst")}</dt>
          <dd>{`${signed(fit.redEv, 2)} / ${withUnit(signed(fit.blueEv, 2), "EV")}`}</dd>
        </Facts>
      ) : (
        <Soft>{sentence("layering/fitsSameView")}</Soft>
      )}
    </>
  );
}
