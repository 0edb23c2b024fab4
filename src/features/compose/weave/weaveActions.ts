import { message, type Telling } from "../../../messages/message";
import { uniteRuns } from "../../../core/masks/cellRuns";
import type { WeaveRecord } from "../../../document/records/weaveTypes";
import { weaveOf } from "../../../document/selectors";
import { joinRegions, layWeave, replaceRegion, setWeave } from "../../../document/weaveEdits";
import { ask, edit, runTask } from "../../../session/openJob";
import { notify, useSession } from "../../../session/store";
import { chooseLayer, useCompose } from "../../../view/composeState";

const step = (label: Telling) => ({ stage: "compose", label });

/** Divides the scene into regions and proposes a frame for each. */
export async function weaveFrames(regions: number): Promise<void> {
  await runTask("compose", "task.looking", async (signal, onProgress) => {
    const weave = await ask("proposeWeave", { records: useSession.getState().records, regions }, { signal, onProgress });
    edit(setWeave(weave), step(message("step.regions", { count: weave.regions.length })));
    useCompose.setState({ regionId: weave.regions[0]?.id ?? null });
  });
}

/** Parts a region in two where it is most unlike itself. */
export async function splitRegion(weave: WeaveRecord, regionId: string): Promise<void> {
  await runTask("compose", "task.partingRegion", async (signal, onProgress) => {
    const halves = await ask("splitWeaveRegion", { records: useSession.getState().records, weave, regionId }, { signal, onProgress });
    if (!halves) notify("composing.onePiece");
    else {
      edit(replaceRegion(regionId, halves), step("step.regionParted"));
      useCompose.setState({ regionId: halves[0].id });
    }
  });
}

/** Joins a region with another. */
export async function joinRegion(weave: WeaveRecord, regionId: string, otherId: string): Promise<void> {
  const [a, b] = [regionId, otherId].map((id) => weave.regions.find((r) => r.id === id));
  if (!a || !b) return;
  await runTask("compose", "task.joiningRegions", async (signal, onProgress) => {
    const cells = await ask("measureArea", { records: useSession.getState().records, runs: uniteRuns(a.runs, b.runs) }, { signal, onProgress });
    edit(joinRegions(regionId, otherId, cells), step(message("step.regionsJoined", { a: a.name, b: b.name })));
  });
}

/** Lays what was chosen as layers, borders where they show least. */
export async function layChosen(): Promise<void> {
  await runTask("compose", "task.borders", async (signal, onProgress) => {
    const { records } = useSession.getState();
    const weave = weaveOf(records);
    if (!weave) return;
    const frames = await ask("weaveBorders", { records, weave }, { signal, onProgress });
    edit(layWeave(weave, frames), step(message("step.woven", { count: frames.length })));
    chooseLayer(null);
    useCompose.setState({ weaving: false });
  });
}
