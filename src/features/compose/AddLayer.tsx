"use client";
import { sentence } from "../../messages/sentence";
import { message, type Telling } from "../../messages/message";
import { useState } from "react";
import { newId } from "../../document/edits";
import { addLayer, layFramesByHand, paintedMask, placeLayer, topOfClipped, type HandFrame, type NewLayer } from "../../document/layerEdits";
import { freshMask } from "../../document/records/layerTypes";
import { UNMOVED, type Moved, wholeFrame } from "../../kinds/contents/frame/record";
import { ALPHA_CUT, FRESH_CUT } from "../../session/cutting";
import type { Records } from "../../document/records/types";
import {
  documentSize,
  frameNumber,
  frameOfLayer,
  framesOf,
  isInFinish,
  layerOf,
  layersOf,
  mergedFramesOf,
  mergeOf,
  registrationOf,
  relativeEvOf,
  swapsOf,
  weaveOf,
} from "../../document/selectors";
import type { Offer } from "../../kinds/contents/controlling";
import { CONTENT_CONTROLS } from "../../kinds/contents/controls";
import { ADJUSTMENT_CONTROLS } from "../../kinds/adjustments/controls";
import type { Adjustment } from "../../kinds/adjustments/records";
import { ADJUSTMENT_WORDS } from "../../kinds/adjustments/words";
import { edit } from "../../session/openJob";
import { fitLayer } from "../../session/fitting";
import { gatherBeside } from "../../session/gathering";
import { report, useSession, usePartsOf } from "../../session/store";
import { Button } from "../../ui/components/Button";
import { FilePicker } from "../../ui/components/FilePicker";
import { MenuButton } from "../../ui/components/MenuButton";
import { RowOf, Soft } from "../../ui/components/panels";
import { pixels } from "../../ui/format";
import { canSeat } from "../../session/seating";
import { framesToSwap } from "../../session/swapping";
import { weaveFrames } from "./weave/weaveActions";
import { DustDialog } from "./DustDialog";
import { LooksDialog } from "./LooksDialog";
import { chooseLayer, useChosenLayer, useCompose, type ComposeTab } from "../../view/composeState";

/** Lays something above the layer chosen, in its group, and chooses it. @returns its id */
function lay(records: Records, chosenId: string | null, layer: NewLayer, label: Telling, tab: ComposeTab): string {
  const id = newId("layer");
  const chosen = layersOf(records).find((l) => l.id === chosenId);
  // pictures are laid below the finish, whatever of it is chosen
  const above = chosen && isInFinish(records, chosen) && layer.content.type !== "adjustment" ? undefined : chosen;
  const parentId = above?.content.type === "group" ? above.id : (above?.parentId ?? null);
  edit(
    (r) => {
      const added = addLayer({ ...layer, id, parentId })(r);
      return above && above.content.type !== "group" ? placeLayer(id, layer.clipped ? above.id : topOfClipped(added, above.id, id), parentId)(added) : added;
    },
    { stage: "compose", label },
  );
  chooseLayer(id, tab);
  useCompose.setState({ working: true });
  return id;
}

/** Mid values of the frames' own well exposed light: what each is best at, in EV of the merge. */
const WELL_EXPOSED_EV = -2.5;

/**
 * Frames with what each is to show: of a focus stack where it is sharpest, else its band of light, from dark to bright.
 * @param hero the frame that the picture is to be built on: it lies whole beneath the others
 */
function handBlend(records: Records, hero: string | null): HandFrame[] {
  const frames = handFrames(records);
  return hero ? [...frames.filter((f) => f.frameId === hero), ...frames.filter((f) => f.frameId !== hero)] : frames;
}

function handFrames(records: Records): HandFrame[] {
  const named = mergedFramesOf(records).map(({ frame }) => ({
    frameId: frame.id,
    name: sentence(message("common/frameNumber", { number: frameNumber(records, frame.id) })),
  }));
  if (mergeOf(records)?.method === "focus") {
    return named.map((f, i) => ({ ...f, shape: { kind: "depth", from: i + 0.5, to: i + 1.5, soft: 0.5 }, featherPx: 2 }));
  }
  const frames = named.map((f) => ({ ...f, ev: relativeEvOf(records, f.frameId) })).sort((a, b) => a.ev - b.ev);
  const centres = frames.map((f) => WELL_EXPOSED_EV - f.ev);
  const between = (i: number) => (centres[i] + centres[i + 1]) / 2;
  return frames.map(({ frameId, name }, i) => {
    const fromEv = i === frames.length - 1 ? -40 : between(i);
    const toEv = i === 0 ? 40 : between(i - 1);
    return { frameId, name, shape: { kind: "light", of: null, fromEv, toEv, softEv: 1 }, featherPx: 8 };
  });
}

/** Regions that the weave begins with. */
const REGIONS = 12;

const OFFERS = Object.values(CONTENT_CONTROLS).flatMap((c): Offer[] => c.offers);

/** What can be laid over the merge. */
export function AddLayer() {
  const { records, readOnly, isBusy } = usePartsOf("records", "readOnly", "isBusy");
  const chosen = useChosenLayer(records);
  const chosenId = chosen?.id ?? null;
  const frames = mergedFramesOf(records);
  const [looking, setLooking] = useState(false);
  const [dusting, setDusting] = useState(false);
  const hero = (chosen && frameOfLayer(chosen)) ?? registrationOf(records)?.referenceId ?? null;
  const others = framesOf(records).filter((f) => !frames.some(({ frame }) => frame.id === f.id));
  /** no larger than the picture it is laid on */
  const fitted = ({ width, height }: { width: number; height: number }): Moved => {
    const size = documentSize(records) ?? { width, height };
    const scale = Math.min(1, size.width / width, size.height / height);
    return { ...UNMOVED, scale: Math.round(scale * 1000) / 1000 };
  };
  const addFile = async (file: File | undefined) => {
    if (!file) return;
    const [frameId] = await gatherBeside([{ name: file.name, file }]);
    const layer = frameId ? addPicture(frameId) : null;
    // a later picture of the same view lies where it belongs at once
    if (layer?.content.type === "frame" && layer.content.cut === null) await fitLayer(layer);
  };
  const addPicture = (frameId: string) => {
    const frame = framesOf(useSession.getState().records).find((f) => f.id === frameId);
    if (!frame) return null;
    const content = wholeFrame(frameId, { moved: fitted(frame), cut: frame.alpha ? ALPHA_CUT : null });
    const layer = {
      name: frame.fileName,
      content,
      mask: frame.alpha ? paintedMask(1) : freshMask(1),
      blendIn: frame.alpha ? ("light" as const) : ("encoded" as const),
    };
    const id = lay(records, chosenId, layer, message("step.laid", { name: frame.fileName }), "content");
    useCompose.setState({ pulling: true });
    return layerOf(useSession.getState().records, id) ?? null;
  };
  const cutOutOf = (frameId: string) => {
    const frame = framesOf(records).find((f) => f.id === frameId);
    if (!frame) return;
    const isMerged = frames.some((m) => m.frame.id === frameId);
    const content = wholeFrame(frameId, { moved: isMerged ? null : fitted(frame), cut: frame.alpha ? ALPHA_CUT : FRESH_CUT });
    const name = sentence(message("cutting/cutOutOfNumber", { number: frameNumber(records, frameId) }));
    lay(records, chosenId, { name, content, mask: paintedMask(1), blendIn: "light" }, message("step.laid", { name }), "content");
  };
  const addAdjustment = async (adjustment: Adjustment) => {
    const { name } = ADJUSTMENT_WORDS[adjustment];
    const { begin, mode = "normal" } = ADJUSTMENT_CONTROLS[adjustment];
    // where the picture cannot be measured, it begins neutral
    const values = (await begin?.(records).catch(report)) ?? {};
    lay(
      records,
      chosenId,
      { name, content: { type: "adjustment", adjustment, values }, mode, mask: freshMask(1) },
      message("step.laidRevealed", { name }),
      "content",
    );
  };
  const weave = async () => {
    if (!weaveOf(records)) await weaveFrames(REGIONS);
    if (weaveOf(useSession.getState().records)) useCompose.setState({ weaving: true });
  };
  const addOther = (what: string) => {
    const offer = OFFERS.find((o) => o.id === what);
    if (what === "hand" || what === "hero") {
      edit(layFramesByHand(handBlend(records, what === "hero" ? hero : null)), {
        stage: "compose",
        label: message("step.framesLaid", { count: frames.length }),
      });
      chooseLayer(null, "mask");
    } else if (what === "look") setLooking(true);
    else if (what === "dust") setDusting(true);
    else if (offer)
      lay(
        records,
        chosenId,
        offer.layer(),
        offer.next ? message("step.laidNext", { name: offer.name, next: offer.next }) : message("step.laid", { name: offer.name }),
        offer.tab,
      );
  };
  return (
    <>
      <Soft>{sentence("compose/layFrameOverPaint")}</Soft>
      <RowOf role="group" aria-label={sentence("compose/layFrameOverMerge")}>
        {frames.map(({ frame }) => {
          const name = sentence(message("common/frameNumber", { number: frameNumber(records, frame.id) }));
          const content = wholeFrame(frame.id);
          return (
            <Button
              key={frame.id}
              isDisabled={readOnly}
              onPress={() => lay(records, chosenId, { name, content, mask: paintedMask(0) }, message("step.laidConcealed", { name }), "mask")}
            >
              {name}
            </Button>
          );
        })}
      </RowOf>
      <RowOf>
        <MenuButton<Adjustment>
          label={sentence("compose/adjustment")}
          isDisabled={readOnly}
          items={(Object.keys(ADJUSTMENT_WORDS) as Adjustment[]).map((id) => ({
            id,
            name: ADJUSTMENT_WORDS[id].name,
            does: ADJUSTMENT_WORDS[id].does,
            isDisabled: ADJUSTMENT_CONTROLS[id].isOffered?.(records) === false,
          }))}
          onChoose={(id) => void addAdjustment(id)}
        />
        <MenuButton<string>
          label={sentence("compose/other")}
          isDisabled={readOnly}
          items={[
            {
              id: "hand",
              name: sentence("compose/allFramesBlendBy"),
              does: sentence("compose/eachUnderMaskBy"),
              isDisabled: frames.length < 2 || mergeOf(records)?.method === "panorama",
            },
            {
              id: "hero",
              name: sentence(message("compose/allFramesFrameWhole", { value: hero ? frameNumber(records, hero) : "" })),
              does: sentence("compose/sameBuiltOnFrame"),
              isDisabled: frames.length < 2 || mergeOf(records)?.method === "panorama",
            },
            {
              id: "dust",
              name: sentence("compose/findSpecks"),
              does: sentence("compose/darkRoundSpotsEven"),
              isDisabled: mergeOf(records)?.method === "panorama",
            },
            ...OFFERS,
            { id: "look", name: sentence("compose/look"), does: sentence("compose/adjustmentsTheirValuesKept") },
          ]}
          onChoose={addOther}
        />
      </RowOf>
      <RowOf>
        <Button isDisabled={readOnly || isBusy || frames.length < 2 || mergeOf(records)?.method === "panorama"} onPress={() => void weave()}>
          {sentence("compose/weaveTheFrames")}
        </Button>
        <Soft>{sentence("compose/frameBestWhereRegion")}</Soft>
      </RowOf>
      <RowOf>
        <Button
          isDisabled={readOnly || framesToSwap(records).length < 2 || mergeOf(records)?.method === "panorama"}
          onPress={() => useCompose.setState({ swapping: true, swapId: swapsOf(records)[0]?.id ?? null, drawing: "part" })}
        >
          {sentence("swapping/swapParts")}
        </Button>
        <Soft>{sentence("swapping/handFromOther")}</Soft>
      </RowOf>
      <RowOf>
        <Button isDisabled={readOnly || !canSeat(records)} onPress={() => useCompose.setState({ seating: true, seatId: null, plateTool: "none" })}>
          {sentence("seating/seatThings")}
        </Button>
        <Soft>{sentence("seating/sizeByGround")}</Soft>
      </RowOf>
      <RowOf>
        <MenuButton
          label={sentence("cutting/cutOut")}
          isDisabled={readOnly}
          items={framesOf(records).map((f) => ({
            id: f.id,
            name: sentence(message("common/frameNumber", { number: frameNumber(records, f.id) })),
            does: f.fileName,
          }))}
          onChoose={cutOutOf}
        />
        {others.length > 0 && (
          <MenuButton
            label={sentence("compose/anotherPicture")}
            isDisabled={readOnly}
            items={others.map((f) => ({
              id: f.id,
              name: f.fileName,
              does: sentence(message("compose/notPartOfMerge", { width: pixels(f.width), height: pixels(f.height) })),
            }))}
            onChoose={(id) => void addPicture(id)}
          />
        )}
        <FilePicker isDisabled={readOnly || isBusy} onFiles={(files) => void addFile(files[0])}>
          {sentence("compose/pictureFromFile")}
        </FilePicker>
      </RowOf>
      {dusting && <DustDialog onClose={() => setDusting(false)} />}
      {looking && <LooksDialog onClose={() => setLooking(false)} />}
    </>
  );
}
