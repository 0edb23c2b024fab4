"use client";
import { sentence } from "../../../messages/sentence";
import { composedLayersOf, seatsOf } from "../../../document/selectors";
import { seatLayer } from "../../../session/seating";
import { useSession } from "../../../session/store";
import { MenuButton } from "../../../ui/components/MenuButton";
import { Heading, RowOf, Section, Soft } from "../../../ui/components/panels";
import { useCompose } from "../../../view/composeState";

/** Layers that show something of a frame and are not seated yet. */
export function SeatThings({ isDisabled }: { isDisabled: boolean }) {
  const records = useSession((s) => s.records);
  const seated = new Set(seatsOf(records).map((s) => s.layerId));
  const layers = composedLayersOf(records).filter((l) => l.content.type === "frame" && !l.locked && !seated.has(l.id));
  const seat = async (layerId: string) => {
    const layer = layers.find((l) => l.id === layerId);
    const seatId = layer && (await seatLayer(layer));
    if (seatId) useCompose.setState({ seatId, plateTool: "none" });
  };
  return (
    <Section>
      <Heading>{sentence("seating/seatSomething")}</Heading>
      {layers.length === 0 && <Soft>{sentence(seated.size ? "seating/allSeated" : "seating/cutFirst")}</Soft>}
      <RowOf>
        <MenuButton
          label={sentence("seating/seatLayer")}
          isDisabled={isDisabled || layers.length === 0}
          items={layers.map(({ id, name }) => ({ id, name }))}
          onChoose={(id) => void seat(id)}
        />
      </RowOf>
    </Section>
  );
}
