"use client";
import { useState } from "react";
import { sentence } from "../../../messages/sentence";
import { message } from "../../../messages/message";
import type { LayerRecord } from "../../../document/records/layerTypes";
import type { Records } from "../../../document/records/types";
import { shownSize } from "../../../document/outputGeometry";
import { frameNumber, framesOf } from "../../../document/selectors";
import type { CutoutFormat } from "../../../engine/operations/matte/exportCutout";
import { beginCut, cutByPlate, endCut, saveCutout, setCut, tellCut } from "../../../session/cutting";
import { useSession, usePartsOf } from "../../../session/store";
import { Button, Choice, TextButton } from "../../../ui/components/Button";
import { Choices } from "../../../ui/components/Choices";
import { MenuButton } from "../../../ui/components/MenuButton";
import { Card, Heading, RowOf, Section, Soft } from "../../../ui/components/panels";
import { Select } from "../../../ui/components/Select";
import { BoxByNumbers } from "../../../view/BoxByNumbers";
import { BrushSize } from "../../../view/BrushSize";
import { useCompose } from "../../../view/composeState";
import type { ControlsProps } from "../controlling";
import { CutFigures } from "./CutFigures";
import { CUT_BY, isTold, MARKS, type Cut, type CutBy, type FrameContent } from "./record";

const BY: Record<CutBy, string> = {
  box: sentence("cutting/box"),
  plate: sentence("cutting/plate"),
  backdrop: sentence("cutting/backdrop"),
  sky: sentence("cutting/notSky"),
  alpha: sentence("cutting/alpha"),
};
const MARK_WORDS = { keep: sentence("cutting/keep"), leave: sentence("cutting/leave"), open: sentence("cutting/open") };
const SAYS = { keep: sentence("cutting/keeps"), leave: sentence("cutting/leaves"), open: sentence("cutting/opens") };

type Props = ControlsProps<FrameContent>;

/** What of a frame is cut out: by what it is told, strokes, and what came of it. */
export function CutControls({ layer, content, isDisabled }: Props) {
  const { cut } = content;
  const isBusy = useSession((s) => s.busy !== null);
  if (!cut)
    return (
      <Section>
        <RowOf style={{ marginTop: 0 }}>
          <Button isDisabled={isDisabled} onPress={() => beginCut(layer)}>
            {sentence("cutting/cutSomethingOut")}
          </Button>
        </RowOf>
        <Soft>{sentence("cutting/onlyAThing")}</Soft>
      </Section>
    );
  return (
    <>
      <Section>
        <Heading>{sentence("cutting/cutOut")}</Heading>
        <Telling key={layer.id} layer={layer} content={content} isDisabled={isDisabled} cut={cut} />
        {isTold(cut) && cut.by !== "alpha" && <Strokes layer={layer} cut={cut} isDisabled={isDisabled} />}
        <RowOf>
          <TextButton isDisabled={isDisabled} onPress={() => endCut(layer)}>
            {sentence("cutting/showAllOfFrame")}
          </TextButton>
          {isTold(cut) && (
            <MenuButton<CutoutFormat>
              label={sentence("cutting/saveCutout")}
              isDisabled={isBusy}
              items={[
                { id: "tiff16", name: sentence("cutting/asTiff"), does: sentence("cutting/allColour") },
                { id: "ora", name: sentence("cutting/asOra"), does: sentence("cutting/oneLayer") },
              ]}
              onChoose={(format) => void saveCutout(layer, format)}
            />
          )}
        </RowOf>
      </Section>
      {isTold(cut) && <CutFigures key={layer.id} layer={layer} content={content} isDisabled={isDisabled} />}
    </>
  );
}

function Telling({ layer, content, cut, isDisabled }: Props & { cut: Cut }) {
  const { records, isBusy } = usePartsOf("records", "isBusy");
  const { name } = layer;
  const frame = records[content.frameId];
  const hasAlpha = frame?.kind === "frame" && frame.alpha !== null;
  // a plate is asked for before anything is said of it
  const [asking, setAsking] = useState(false);
  const [exactly, setExactly] = useState(false);
  const others = framesOf(records).filter((f) => f.id !== content.frameId);
  const by: CutBy = asking ? "plate" : cut.by;
  const choose = (next: CutBy) => {
    setAsking(next === "plate" && cut.plateId === null);
    if (next === "box") void tellCut(layer, { by: "box" }, message("step.cutByBox", { name }));
    if (next === "alpha") void tellCut(layer, { by: "alpha" }, message("step.cutByAlpha", { name }));
    if (next === "sky") void tellCut(layer, { by: "sky" }, message("step.cutBySky", { name }));
    if (next === "backdrop") void tellCut(layer, { by: "backdrop" }, message("step.cutByBackdrop", { name }));
    if (next === "plate" && cut.plateId !== null)
      void tellCut(layer, { by: "plate" }, message("step.cutByPlate", { name, number: frameNumber(records, cut.plateId) }));
  };
  return (
    <>
      <Choices
        label={sentence("cutting/toldBy")}
        items={CUT_BY.filter((id) => id !== "alpha" || hasAlpha).map((id) => ({ id, label: BY[id] }))}
        chosen={by}
        isDisabled={isDisabled}
        onChoose={choose}
      />
      {by === "box" && !cut.box && (
        <Card>
          {sentence("cutting/dragBoxAround")}{" "}
          <TextButton
            isDisabled={isDisabled}
            onPress={() => {
              const size = sizeOf(records, content);
              const [x, y] = [Math.round(size.width / 5), Math.round(size.height / 5)];
              void tellCut(layer, { box: { x, y, width: size.width - 2 * x, height: size.height - 2 * y } }, message("step.cutBoxed", { name }));
            }}
          >
            {sentence("cutting/beginWithMiddle")}
          </TextButton>
        </Card>
      )}
      {by === "box" && cut.box && (
        <RowOf>
          <Soft as="span">{sentence(message("cutting/boxIs", { width: Math.round(cut.box.width), height: Math.round(cut.box.height) }))}</Soft>
          <TextButton isDisabled={isDisabled} onPress={() => setCut(layer, { box: null }, message("step.cutBoxGone", { name }))}>
            {sentence("cutting/drawAnotherBox")}
          </TextButton>
          <Choice isSelected={exactly} onChange={setExactly}>
            {sentence("cutting/edgesByNumbers")}
          </Choice>
        </RowOf>
      )}
      {by === "box" && cut.box && exactly && (
        <BoxByNumbers
          box={cut.box}
          size={sizeOf(records, content)}
          least={LEAST_BOX}
          isDisabled={isDisabled}
          onChange={(box) => void tellCut(layer, { box }, message("step.cutBoxed", { name }))}
        />
      )}
      {by === "plate" && others.length === 0 && <Card $open>{sentence("cutting/noOtherFrame")}</Card>}
      {by === "plate" && others.length > 0 && (
        <Select<string>
          label={sentence("cutting/plateShows")}
          items={[
            ...(cut.plateId === null ? [{ id: "", label: sentence("cutting/choosePlate") }] : []),
            ...others.map((f) => ({ id: f.id, label: sentence(message("common/frameNumber", { number: frameNumber(records, f.id) })) })),
          ]}
          chosen={cut.plateId ?? ""}
          isDisabled={isDisabled || isBusy}
          onChoose={(id) => {
            setAsking(false);
            if (id) void cutByPlate(layer, id);
          }}
        />
      )}
      {by === "backdrop" && <Soft>{sentence("cutting/backdropIs")}</Soft>}
      {by === "sky" && <Soft>{sentence("cutting/notSkyIs")}</Soft>}
      {by === "alpha" && <Soft>{sentence("cutting/alphaIs")}</Soft>}
    </>
  );
}

/** px */
const LEAST_BOX = 8;
const sizeOf = (records: Records, { frameId }: FrameContent) => shownSize(records, frameId) ?? { width: LEAST_BOX, height: LEAST_BOX };

function Strokes({ layer, cut, isDisabled }: { layer: LayerRecord; cut: Cut; isDisabled: boolean }) {
  const { marking, working } = useCompose();
  return (
    <>
      <Choices
        label={sentence("cutting/whatStrokeSays")}
        items={[...MARKS.map((id) => ({ id, label: MARK_WORDS[id] })), { id: "move" as const, label: sentence("common/move") }]}
        chosen={working ? marking : "move"}
        isDisabled={isDisabled}
        onChoose={(what) => useCompose.setState(what === "move" ? { working: false } : { working: true, marking: what, pulling: false })}
      />
      <Soft>{SAYS[marking]}</Soft>
      <BrushSize name={sentence("common/size")} />
      <RowOf>
        <Soft as="span">{sentence(message("cutting/strokes", { count: cut.marks.length }))}</Soft>
        {cut.marks.length > 0 && (
          <TextButton
            isDisabled={isDisabled}
            onPress={() => setCut(layer, { marks: cut.marks.slice(0, -1) }, message("step.cutStrokeBack", { name: layer.name }))}
          >
            {sentence("cutting/takeLastBack")}
          </TextButton>
        )}
      </RowOf>
    </>
  );
}
