"use client";
import { sentence } from "../../../messages/sentence";
import { message } from "../../../messages/message";
import { ungroup } from "../../../document/layerEdits";
import { childrenOf, isFinish } from "../../../document/selectors";
import { edit } from "../../../session/openJob";
import { useSession } from "../../../session/store";
import { Button, Choice } from "../../../ui/components/Button";
import { RowOf, Section, Soft } from "../../../ui/components/panels";
import type { ContentControls, ControlsProps } from "../controlling";
import { setContent } from "../setContent";
import type { GroupContent } from "./record";

function GroupControls({ layer, content, isDisabled }: ControlsProps<GroupContent>) {
  const records = useSession((s) => s.records);
  return (
    <Section>
      <Soft>
        {sentence(
          message("layering/layersDragRowOnto", {
            count: childrenOf(records, layer.id).length,
            value: content.through ? sentence("layering/workingOnWhatLies") : sentence("layering/blendedAmongThemselvesFirst"),
          }),
        )}
      </Soft>
      <RowOf>
        <Choice
          isSelected={content.through}
          isDisabled={isDisabled || isFinish(layer)}
          onChange={(through) => setContent(layer, { ...content, through }, message(through ? "step.through" : "step.byItself", { name: layer.name }))}
        >
          {sentence("layering/worksOnWhatLies")}
        </Choice>
        <Button isDisabled={isDisabled} onPress={() => edit(ungroup(layer.id), { stage: "compose", label: message("step.ungrouped", { name: layer.name }) })}>
          {sentence("common/takeGroupAway")}
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
      name: sentence("common/group"),
      does: sentence("layering/holdsLayersBlendedAmong"),
      layer: () => ({ name: sentence("common/group"), content: { type: "group", through: false } }),
      tab: "layer",
    },
  ],
};
