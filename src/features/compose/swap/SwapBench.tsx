"use client";
import { useEffect, useState } from "react";
import { sentence } from "../../../messages/sentence";
import { message } from "../../../messages/message";
import { seamShows } from "../../../core/weave/seamShows";
import type { SwapRecord } from "../../../document/records/swapTypes";
import { documentSize, frameNumber } from "../../../document/selectors";
import { layerOfSwap, LEAST_BOX, rankedLooks, takenFrom, updateSwap } from "../../../document/swapEdits";
import type { SeamFigures } from "../../../engine/operations/swap/seams";
import { ask, edit } from "../../../session/openJob";
import { builtOn, drawJoint, drawPart, dropPart, reshapePart, takeFrom } from "../../../session/swapping";
import { report, useSession, usePartsOf } from "../../../session/store";
import { Button, Choice, PrimaryButton, TextButton } from "../../../ui/components/Button";
import { Card, Facts, Heading, RowOf, Section, Soft } from "../../../ui/components/panels";
import { TextField } from "../../../ui/components/TextField";
import { percent, plain, signed, withUnit } from "../../../ui/format";
import { BoxByNumbers } from "../../../view/BoxByNumbers";
import { chooseLayer, useCompose } from "../../../view/composeState";
import { Patch, Patches, PatchPicture } from "../../../view/patches";
import { jumpTo } from "../../../view/viewState";
import { isCancelled } from "../../../workers/client/EngineClient";

/** The part chosen: what each frame shows of it, what has to fit, and how it was joined. */
export function SwapBench({ swap }: { swap: SwapRecord | null }) {
  const { readOnly, isBusy } = usePartsOf("readOnly", "isBusy");
  const isDisabled = readOnly || isBusy;
  return (
    <>
      {swap ? <Part key={swap.id} swap={swap} isDisabled={isDisabled} /> : <NoPart isDisabled={isDisabled} />}
      <Section>
        <RowOf style={{ marginTop: 0 }}>
          <PrimaryButton onPress={() => useCompose.setState({ swapping: false })}>{sentence("compose/backLayers")}</PrimaryButton>
        </RowOf>
      </Section>
    </>
  );
}

function NoPart({ isDisabled }: { isDisabled: boolean }) {
  const records = useSession((s) => s.records);
  const size = documentSize(records);
  const begin = async () => {
    if (!size) return;
    const [x, y] = [Math.round(size.width / 3), Math.round(size.height / 3)];
    const id = await drawPart({ x, y, width: x, height: y }, sentence(message("swapping/part", { number: 1 })));
    if (id) useCompose.setState({ swapId: id });
  };
  return (
    <Section>
      <Heading>{sentence("swapping/noPart")}</Heading>
      <Soft>{sentence("swapping/dragBoxAround")}</Soft>
      <RowOf>
        <TextButton isDisabled={isDisabled} onPress={() => void begin()}>
          {sentence("cutting/beginWithMiddle")}
        </TextButton>
      </RowOf>
    </Section>
  );
}

function Part({ swap, isDisabled }: { swap: SwapRecord; isDisabled: boolean }) {
  const records = useSession((s) => s.records);
  const drawing = useCompose((s) => s.drawing);
  const [name, setName] = useState(swap.name);
  const [exactly, setExactly] = useState(false);
  const { order, reason } = rankedLooks(records, swap);
  const base = builtOn(records);
  const taken = takenFrom(records, swap);
  const size = documentSize(records);
  const keepName = () => {
    const next = name.trim().slice(0, 200);
    if (!next) setName(swap.name);
    else if (next !== swap.name) edit(updateSwap(swap.id, { name: next }), { stage: "compose", label: message("step.regionNamed", { name: swap.name, next }) });
  };
  return (
    <>
      <Section>
        <TextField
          style={{ fontWeight: 600 }}
          aria-label={sentence("swapping/nameOfPart")}
          value={name}
          disabled={isDisabled}
          onChange={(e) => setName(e.target.value)}
          onBlur={keepName}
          onKeyDown={(e) => e.key === "Enter" && keepName()}
        />
        <Soft>{sentence(reason)}</Soft>
        <Patches role="group" aria-label={sentence(message("compose/eachFrameBestFirst", { name: swap.name }))}>
          {order.map((look) => {
            const frame = records[look.frameId];
            if (frame?.kind !== "frame") return null;
            const isTaken = (taken ?? base) === frame.id;
            return (
              <Patch
                key={frame.id}
                isSelected={isTaken}
                isDisabled={isDisabled}
                onChange={() => !isTaken && void takeFrom(swap, frame.id === base ? null : frame.id)}
              >
                <PatchPicture view={{ kind: "source", frameId: frame.id }} rectangle={look.found ?? swap.box} of={frame} />
                {sentence(message("common/frameWithin", { number: frameNumber(records, frame.id) }))}
              </Patch>
            );
          })}
          {base === null && (
            <Patch isSelected={taken === null} isDisabled={isDisabled} onChange={() => taken !== null && void takeFrom(swap, null)}>
              <PatchPicture view={{ kind: "merge", method: null }} rectangle={swap.box} />
              {sentence("compose/theMerge")}
            </Patch>
          )}
        </Patches>
        <Soft>{sentence("swapping/facesNotRead")}</Soft>
      </Section>
      <Section>
        <Heading>{sentence("swapping/whatFits")}</Heading>
        <Soft>{sentence(swap.joint ? "swapping/jointIs" : "swapping/aroundIs")}</Soft>
        <RowOf>
          <Choice isSelected={drawing === "joint"} isDisabled={isDisabled} onChange={(on) => useCompose.setState({ drawing: on ? "joint" : "part" })}>
            {sentence(swap.joint ? "swapping/drawAnotherJoint" : "swapping/drawJoint")}
          </Choice>
          {swap.joint && (
            <TextButton isDisabled={isDisabled} onPress={() => void drawJoint(swap, null)}>
              {sentence("swapping/noJoint")}
            </TextButton>
          )}
          <Choice isSelected={exactly} onChange={setExactly}>
            {sentence("cutting/edgesByNumbers")}
          </Choice>
        </RowOf>
        {exactly && size && (
          <BoxByNumbers box={swap.box} size={size} least={LEAST_BOX} isDisabled={isDisabled} onChange={(box) => void reshapePart(swap, box)} />
        )}
        {exactly && size && swap.joint && (
          <>
            <Soft>{sentence("swapping/jointByNumbers")}</Soft>
            <BoxByNumbers box={swap.joint} size={size} least={LEAST_BOX} isDisabled={isDisabled} onChange={(box) => void drawJoint(swap, box)} />
          </>
        )}
      </Section>
      {taken !== null && <Joined swap={swap} />}
      <Section>
        <RowOf style={{ marginTop: 0 }}>
          <Button isDisabled={isDisabled} onPress={() => dropPart(swap)}>
            {sentence("swapping/dropPart")}
          </Button>
        </RowOf>
      </Section>
    </>
  );
}

/** How a part that was taken fits, and what shows along its seam. */
function Joined({ swap }: { swap: SwapRecord }) {
  const records = useSession((s) => s.records);
  const layer = layerOfSwap(records, swap);
  const [seam, setSeam] = useState<{ layer: typeof layer; figures: SeamFigures | null } | null>(null);
  useEffect(() => {
    if (!layer) return;
    const controller = new AbortController();
    const timer = setTimeout(() => {
      ask("seamFigures", { records, layerId: layer.id }, { signal: controller.signal })
        .then((figures) => setSeam({ layer, figures }))
        .catch((error: unknown) => isCancelled(error) || report(error));
    }, 500);
    return () => {
      clearTimeout(timer);
      controller.abort();
    };
  }, [records, layer]);
  const fit = layer?.content.type === "frame" ? layer.content.fit : null;
  if (!layer || !fit) return null;
  const figures = seam?.layer === layer ? seam.figures : null;
  return (
    <Section>
      <Heading>{sentence("swapping/howJoined")}</Heading>
      <Facts aria-label={sentence("swapping/howJoined")} aria-busy={!figures}>
        <dt>{sentence("swapping/left")}</dt>
        <dd>{withUnit(plain(fit.residualPx, 2), "px")}</dd>
        <dt>{sentence("swapping/agreeing")}</dt>
        <dd>{percent(fit.agreeing)}</dd>
        <dt>{sentence("swapping/lightWas")}</dt>
        <dd>{withUnit(signed(fit.lightEv, 2), "EV")}</dd>
        <dt>{sentence("swapping/seam")}</dt>
        <dd>{figures ? withUnit(plain(figures.deltaE, 1), "ΔE") : "…"}</dd>
        <dt>{sentence("swapping/seamWorst")}</dt>
        <dd>{figures ? withUnit(plain(figures.worstDeltaE, 1), "ΔE") : "…"}</dd>
      </Facts>
      {figures && seamShows(figures) && (
        <Card>
          {sentence("swapping/seamShows")}{" "}
          <TextButton onPress={() => jumpTo({ x: figures.worst.x - AROUND, y: figures.worst.y - AROUND, width: 2 * AROUND, height: 2 * AROUND })}>
            {sentence(message("swapping/placeAt", figures.worst))}
          </TextButton>
        </Card>
      )}
      <RowOf>
        <Button
          onPress={() => {
            useCompose.setState({ swapping: false });
            chooseLayer(layer.id, "mask");
          }}
        >
          {sentence("swapping/paintOnIt")}
        </Button>
      </RowOf>
    </Section>
  );
}

/** px around a place that is shown */
const AROUND = 60;
