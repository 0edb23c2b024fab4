"use client";
import { message } from "../../../messages/message";
import { ungroup } from "../../../document/layerEdits";
import { childrenOf, isFinish } from "../../../document/selectors";
import { edit } from "../../../session/openJob";
import { useSession } from "../../../session/store";
import { Button, Choice } from "../../../ui/components/Button";
import { RowOf, Section, Soft } from "../../../ui/components/panels";
import { counted } from "../../../ui/format";
import type { ContentControls, ControlsProps } from "../controlling";
import { setContent } from "../setContent";
import type { GroupContent } from "./record";

function GroupControls({ layer, content, isDisabled }: ControlsProps<GroupContent>) {
  const records = useSession((s) => s.records);
  return (
    <Section>
      <Soft>
        {counted(childrenOf(records, layer.id).length, "layer")},{" "}
        {content.through ? "working on what lies below the group" : "blended among themselves first and then laid over what is below"}. Drag a row onto the
        group to put it in.
      </Soft>
      <RowOf>
        <Choice
          isSelected={content.through}
          isDisabled={isDisabled || isFinish(layer)}
          onChange={(through) => setContent(layer, { ...content, through }, message(through ? "step.through" : "step.byItself", { name: layer.name }))}
        >
          Works on what lies below
        </Choice>
        <Button isDisabled={isDisabled} onPress={() => edit(ungroup(layer.id), { stage: "compose", label: message("step.ungrouped", { name: layer.name }) })}>
          Take the group away
        </Button>
      </RowOf>
    </Section>
  );
}

export const group: ContentControls<GroupContent> = {
  Controls: GroupControls,
  offers: [
    {
      id: "group",
      name: "Group",
      does: "Holds layers that are blended among themselves first.",
      layer: () => ({ name: "Group", content: { type: "group", through: false } }),
      tab: "layer",
    },
  ],
};
