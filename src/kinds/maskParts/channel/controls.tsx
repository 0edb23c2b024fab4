"use client";
import { written } from "../../../messages/message";
import { Select } from "../../../ui/components/Select";
import { CHANNELS } from "../../wording";
import { frameOf, type ControlsProps, type PartControls } from "../controlling";
import type { Channel } from "./record";

const NAMES = CHANNELS.choices.slice(1);

function ChannelChoice({ part, isDisabled, change }: ControlsProps<Channel>) {
  return (
    <Select
      label={CHANNELS.name}
      items={NAMES.map((label, i) => ({ id: String(i), label }))}
      chosen={String(part.channel)}
      isDisabled={isDisabled}
      onChoose={(c) => change({ channel: Number(c) as 0 | 1 | 2 }, written(NAMES[Number(c)].toLowerCase()))}
    />
  );
}

export const channel: PartControls<Channel> = {
  begin: (_size, _records, layer) => ({ kind: "channel", of: frameOf(layer), channel: 2, low: 0.4, high: 0.6 }),
  Controls: ChannelChoice,
};
