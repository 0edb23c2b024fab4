/** What is shown and the address are the same, whichever of the two is changed. */
import { openTabs, settle, type Tab } from "../../tests/support/tabs";
import { readAddress, writeAddress } from "./address";
import type { AddressLine } from "./navigation";
import { STAGES } from "./stages";

const tab = openTabs();
const state = (t: Tab) => t.store.useSession.getState();

/** An address line with its history, as a browser has it. */
class Line implements AddressLine {
  private moved: () => void = () => undefined;
  private at = 0;
  constructor(readonly entries: string[]) {}
  path = () => this.entries[this.at];
  push = (path: string) => void this.entries.splice(++this.at, Infinity, path);
  replace = (path: string) => void (this.entries[this.at] = path);
  onMove = (moved: () => void) => {
    this.moved = moved;
    return () => undefined;
  };
  /** back or forward by so many entries */
  async go(by: number): Promise<void> {
    this.at += by;
    this.moved();
    await settle();
  }
}
const never = async () => false;
const NOTHING_LOOKED_AT = { layerId: null, findingId: null };

async function twoJobs(): Promise<{ t: Tab; a: string; b: string }> {
  const t = await tab();
  await t.jobs.newJob("A");
  const a = state(t).jobId!;
  await t.jobs.newJob("B");
  const b = state(t).jobId!;
  await t.jobs.closeJob();
  return { t, a, b };
}

it("every stage has an address and is found by it; what is no address leads nowhere", () => {
  for (const stage of STAGES) {
    const address = { jobId: "a-1", stage, ...NOTHING_LOOKED_AT };
    expect(readAddress(writeAddress(address))).toEqual(address);
  }
  expect(readAddress("/")).toEqual({ jobId: null });
  expect(readAddress("/job/a-1")).toEqual({ jobId: "a-1", stage: null, ...NOTHING_LOOKED_AT });
  for (const path of ["/job", "/job/", "/job/a/nowhere", "/job/a/merge/more", "/job/..", "/jobs", `/job/${"a".repeat(200)}`, "/job/<a>"])
    expect(readAddress(path)).toBeNull();
});

it("a layer worked on and a finding looked at stand in the query of their stage, and nowhere else", () => {
  const looked = { layerId: "layer-1", findingId: "clipped-sky:2" };
  expect(writeAddress({ jobId: "a", stage: "compose", ...looked })).toBe("/job/a/compose?layer=layer-1");
  expect(writeAddress({ jobId: "a", stage: "proof", ...looked })).toBe("/job/a/proof?finding=clipped-sky%3A2");
  expect(writeAddress({ jobId: "a", stage: "merge", ...looked })).toBe("/job/a/merge");
  expect(readAddress("/job/a/proof?finding=clipped-sky%3A2&layer=x&other=1")).toEqual({
    jobId: "a",
    stage: "proof",
    layerId: null,
    findingId: "clipped-sky:2",
  });
  for (const query of ["?layer=", "?layer=<b>", `?layer=${"a".repeat(300)}`, "?%", "?layer"])
    expect(readAddress(`/job/a/compose${query}`)).toEqual({ jobId: "a", stage: "compose", ...NOTHING_LOOKED_AT });
});

it("choosing a layer changes the address in place; an address with one chooses it, and the next job has none", async () => {
  const { t, a, b } = await twoJobs();
  const line = new Line([`/job/${a}/compose?layer=layer-7`]);
  await t.navigation.navigate(line, never);
  expect([state(t).stage, state(t).layerId, line.entries]).toEqual(["compose", "layer-7", [`/job/${a}/compose?layer=layer-7`]]);
  t.store.useSession.setState({ layerId: "layer-8" });
  expect(line.entries).toEqual([`/job/${a}/compose?layer=layer-8`]);
  t.open.setStage("finish");
  expect(line.entries).toEqual([`/job/${a}/compose?layer=layer-8`, `/job/${a}/finish`]);
  await line.go(-1);
  expect([state(t).stage, state(t).layerId]).toEqual(["compose", "layer-8"]);
  await t.jobs.openStoredJob(b);
  expect([state(t).jobId, state(t).layerId]).toEqual([b, null]);
});

it("what a control that is dragged would make of the job ends with its stage", async () => {
  const { t, a } = await twoJobs();
  await t.navigation.navigate(new Line([`/job/${a}/compose`]), never);
  t.live.showLive((records) => records);
  t.open.setStage("compose");
  expect(t.live.useLive.getState().edit).not.toBeNull();
  t.open.setStage("finish");
  expect(t.live.useLive.getState().edit).toBeNull();
});

it("a stage without what is looked at in its address leaves what was; a finding is sought only where an address names it", async () => {
  const { t, a } = await twoJobs();
  const line = new Line([`/job/${a}/compose?layer=layer-7`]);
  await t.navigation.navigate(line, never);
  t.open.setStage("finish");
  t.open.setStage("handover");
  await line.go(-1);
  expect([state(t).stage, state(t).layerId]).toEqual(["finish", "layer-7"]);
  t.open.setStage("proof");
  t.store.useSession.setState({ findingId: "clipped-sky:2" });
  expect([line.path(), state(t).isFindingSought]).toEqual([`/job/${a}/proof?finding=clipped-sky%3A2`, false]);
  t.open.setStage("finish");
  await line.go(-1);
  expect([state(t).findingId, state(t).isFindingSought]).toEqual(["clipped-sky:2", true]);
});

it("jobs and stages that are gone to have addresses, and back and forward go through them", async () => {
  const { t, a, b } = await twoJobs();
  const line = new Line(["/"]);
  await t.navigation.navigate(line, never);
  await t.jobs.openStoredJob(a);
  t.open.setStage("merge");
  await t.jobs.openStoredJob(b);
  await settle();
  expect(line.entries.at(-1)).toBe(`/job/${b}/gather`);
  // one job closed for another leaves no entry of all jobs between them
  await line.go(-1);
  expect([state(t).jobId, state(t).stage]).toEqual([a, "merge"]);
  await line.go(-1);
  expect([state(t).jobId, state(t).stage]).toEqual([a, "gather"]);
  await line.go(-1);
  expect(state(t).jobId).toBeNull();
  await line.go(2);
  expect([state(t).jobId, state(t).stage, line.path()]).toEqual([a, "merge", `/job/${a}/merge`]);
});

it("an opening that is overtaken by one that leads nowhere leaves nothing on its way", async () => {
  const { t, a, b } = await twoJobs();
  await t.jobs.openStoredJob(a);
  await Promise.all([t.jobs.openStoredJob(b), t.jobs.openStoredJob("none")]);
  await settle();
  expect(state(t).isSwitching).toBe(false);
});

it("an address opens its job at its stage; without one as it was left", async () => {
  const { t, a } = await twoJobs();
  await t.navigation.navigate(new Line([`/job/${a}/proof`]), never);
  expect([state(t).jobId, state(t).stage]).toEqual([a, "proof"]);
  await settle();
  const other = await tab();
  const line = new Line([`/job/${a}`]);
  await other.navigation.navigate(line, never);
  expect([state(other).jobId, line.entries]).toEqual([a, [`/job/${a}/${state(other).stage}`]]);
});

it.each([
  ["a job that is not there", "/job/none/merge", /not in this browser/],
  ["no address", "/somewhere", /nothing at this address/],
])("%s: all jobs are shown, with a sentence", async (_, path, sentence) => {
  const { t } = await twoJobs();
  const line = new Line([path]);
  await t.navigation.navigate(line, never);
  expect([state(t).jobId, line.entries]).toEqual([null, ["/"]]);
  expect(t.notices().join()).toMatch(sentence);
});

it("a job that was removed is not opened by its address, and that is said", async () => {
  const { t, a } = await twoJobs();
  await t.jobs.removeFromList(a);
  const line = new Line([`/job/${a}/merge`]);
  await t.navigation.navigate(line, never);
  expect([state(t).jobId, line.entries]).toEqual([null, ["/"]]);
  expect(t.notices().join()).toMatch(/it was removed/);
});

it("of two addresses gone to at once the latter is shown", async () => {
  const { t, a, b } = await twoJobs();
  const line = new Line(["/", `/job/${a}/merge`, `/job/${b}/finish`]);
  await t.navigation.navigate(line, never);
  void line.go(1);
  await line.go(1);
  await settle();
  expect([state(t).jobId, state(t).stage, line.path()]).toEqual([b, "finish", `/job/${b}/finish`]);
});

it("what opens first, as a demo, replaces the address it was asked by", async () => {
  const { t, a } = await twoJobs();
  const line = new Line(["/"]);
  await t.navigation.navigate(line, () => t.jobs.openStoredJob(a));
  expect(line.entries).toEqual([`/job/${a}/gather`]);
});
