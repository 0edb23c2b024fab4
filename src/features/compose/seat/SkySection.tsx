"use client";
import { sentence } from "../../../messages/sentence";
import { message } from "../../../messages/message";
import { otherSkyOf } from "../../../document/skyEdits";
import { plateFrame } from "../../../document/seatEdits";
import type { FrameRecord } from "../../../document/records/types";
import { exchangeSky } from "../../../session/sky";
import { useSession } from "../../../session/store";
import { Button } from "../../../ui/components/Button";
import { MenuButton } from "../../../ui/components/MenuButton";
import { Heading, RowOf, Section, Soft } from "../../../ui/components/panels";
import { toLayer } from "../../../view/composeState";

/** Another frame's sky in place of the plate's. */
export function SkySection({ isDisabled }: { isDisabled: boolean }) {
  const records = useSession((s) => s.records);
  const laid = otherSkyOf(records);
  const own = plateFrame(records)?.id;
  const frames = Object.values(records).filter((r): r is FrameRecord => r.kind === "frame" && r.id !== own);
  return (
    <Section>
      <Heading>{sentence("seating/sky")}</Heading>
      <Soft>{sentence(laid ? "seating/skyIsLayer" : frames.length ? "seating/skyMeans" : "seating/skyNeedsFrame")}</Soft>
      <RowOf>
        {laid ? (
          <Button onPress={() => toLayer(laid.id, "content")}>{sentence("seating/toSky")}</Button>
        ) : (
          <MenuButton
            label={sentence("seating/layOtherSky")}
            isDisabled={isDisabled || frames.length === 0}
            items={frames.map(({ id, fileName }) => ({ id, name: fileName }))}
            onChoose={(id) => {
              const frame = frames.find((f) => f.id === id);
              if (frame) void exchangeSky(frame, sentence(message("seating/skyName", { name: frame.fileName })));
            }}
          />
        )}
      </RowOf>
    </Section>
  );
}
