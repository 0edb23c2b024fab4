/** The small picture of a job: made when the job is left alone, of what it shows then, and never again for nothing. */
import { written } from "../messages/message";
import { openTabs, settle, type Tab } from "../../tests/support/tabs";
import { newFrame } from "../../tests/support/records";
import { addFrames } from "../document/edits";
import { setFinish } from "../document/finishEdits";

const tab = openTabs();
const waiting = (t: Tab) => t.asked.filter((a) => a.name === "renderRect");
const pack = async (rgba: Uint8ClampedArray, width: number, height: number) => new Blob([`${rgba.length} ${width}×${height}`]);
const QUIET = 5;
const gathered = (t: Tab) => t.open.edit(addFrames([newFrame({ width: 1000, height: 600 })]), { stage: "gather", label: written("frames") });
const drawn = { rect: { x: 0, y: 0, width: 250, height: 150 }, level: 2, rgba: new Uint8ClampedArray(8) };

it("is made once things are quiet, of the first frame where nothing is merged, and kept with the job", async () => {
  const t = await tab();
  const end = t.picturing.keepPictures(pack, QUIET);
  await t.jobs.newJob("A");
  const id = t.store.useSession.getState().jobId!;
  gathered(t);
  await settle();
  expect(waiting(t)).toHaveLength(1);
  expect(t.last("renderRect").params).toMatchObject({ view: { kind: "source" }, level: 2, rect: { x: 0, y: 0, width: 1000, height: 600 } });
  await t.last("renderRect").answer(drawn);
  expect(await (await t.jobStore.loadPicture(id))!.text()).toBe("8 250×150");
  end();
});

it("waits while something runs, and is of the job as it is then", async () => {
  const t = await tab();
  const end = t.picturing.keepPictures(pack, QUIET);
  await t.jobs.newJob("A");
  const running = t.open.runTask("gather", "task.readingFiles", () => settle(6));
  gathered(t);
  await settle(3);
  expect(waiting(t)).toEqual([]);
  await running;
  await settle();
  expect(Object.values(t.last("renderRect").params.records as object).some((r: { kind: string }) => r.kind === "frame")).toBe(true);
  end();
});

it("a job that is opened and has one is not drawn for it; a step of it is", async () => {
  const t = await tab();
  await t.jobs.newJob("A");
  gathered(t);
  const id = t.store.useSession.getState().jobId!;
  await t.jobs.closeJob();
  await t.jobStore.savePicture(id, new Blob(["old"]));
  const end = t.picturing.keepPictures(pack, QUIET);
  await t.jobs.openStoredJob(id);
  await settle();
  expect(waiting(t)).toEqual([]);
  t.open.edit(setFinish("exposure", { ev: 1 }), { stage: "finish", label: written("brighter") });
  await settle();
  expect(waiting(t)).toHaveLength(1);
  end();
});
