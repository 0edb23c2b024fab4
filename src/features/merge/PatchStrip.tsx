"use client";
import { sentence } from "../../messages/sentence";
import { message } from "../../messages/message";
import type { Rectangle } from "../../core/geometry/rectangle";
import type { GhostRecord } from "../../document/records/types";
import { frameNumber, mergedFramesOf } from "../../document/selectors";
import { useSession } from "../../session/store";
import { Patch, Patches, PatchPicture } from "../../view/patches";

interface Props {
  ghost: GhostRecord;
  rectangle: Rectangle;
  isDisabled: boolean;
  onTake: (donorId: string | null) => void;
}

/** The same patch from every frame at equal exposure, and of the merge of all; a click takes it. */
export function PatchStrip({ ghost, rectangle, isDisabled, onTake }: Props) {
  const records = useSession((s) => s.records);
  const frames = mergedFramesOf(records);
  return (
    <Patches role="group" aria-label={sentence(message("merge/placeEachFrame", { number: ghost.number }))}>
      {frames.map(({ frame }) => (
        <Patch key={frame.id} isSelected={ghost.donorId === frame.id} isDisabled={isDisabled} onChange={() => onTake(frame.id)}>
          <PatchPicture view={{ kind: "frame", frameId: frame.id, levelled: true }} rectangle={rectangle} />
          {sentence(message("common/frameWithin", { number: frameNumber(records, frame.id) }))}
          {ghost.proposedId === frame.id && " ✓"}
        </Patch>
      ))}
      <Patch isSelected={ghost.donorId === null} isDisabled={isDisabled} onChange={() => onTake(null)}>
        <PatchPicture view={{ kind: "merge", method: null, bare: true }} rectangle={rectangle} />
        {sentence("merge/asMerged")}
      </Patch>
    </Patches>
  );
}
