/** Kinds that nobody has: each is one line in the lists of its sort, and goes from record to screen. */
import { renderToStaticMarkup } from "react-dom/server";
import { prepareSmallJob } from "../../tests/support/smallJob";
import { createNodeEngine, type NodeEngine } from "../cli/createNodeEngine";
import { finite as numberField } from "../document/records/fields";
import { VALIDATORS } from "../document/records/validators";
import { finding, isFinding } from "../document/finding";
import { addLayer, addPart } from "../document/layerEdits";
import { freshMerge, setMerge, takeMerge, type MergeDraft } from "../document/mergeEdits";
import { freshMask } from "../document/records/layerTypes";
import type { Records } from "../document/records/types";
import { setKindOf } from "../document/edits";
import { summarizeSet } from "../document/sets";
import { framesOf, layerOf, layersOf, mergeOf, workingSetIdOf } from "../document/selectors";
import { each } from "../engine/operations/frames/frameSamples";
import { composeRect, prepareJob } from "../engine/operations/layers/compose";
import { mergeBase } from "../engine/operations/merge/mergeBase";
import { readMerge } from "../engine/operations/merge/readLayer";
import { SILENT } from "../engine/task";
import type { Codecs } from "../formats/codecs";
import { colorOfProfile, headOf } from "../formats/pictureReader";
import { PICTURE_READERS } from "../formats/pictureReaders";
import { readColor, readPicture } from "../formats/readPicture";
import { MemoryRasterStore } from "../engine/tiles/MemoryRasterStore";
import { Soft } from "../ui/components/panels";
import { findingSentence, findingTitle } from "../words/findings";
import { setSentence } from "../words/sets";
import { ADJUSTMENT_CONTROLS } from "./adjustments/controls";
import { ADJUSTMENT_OPERATIONS } from "./adjustments/operations";
import { ADJUSTMENT_RECORDS, valuesOf, type Adjustment } from "./adjustments/records";
import { standard } from "./adjustments/StandardControls";
import { lightOf, type Site } from "./adjustments/tools";
import { ADJUSTMENT_WORDS } from "./adjustments/words";
import { controlsOf as contentControls, CONTENT_CONTROLS } from "./contents/controls";
import { CONTENT_OPERATIONS } from "./contents/operations";
import { CONTENT_RECORDS, type LayerContent } from "./contents/records";
import { CONTENT_WORDS, wordsOf } from "./contents/words";
import { FINDING_RECORDS, type FindingKind } from "./findings/records";
import { FINDING_WORDS } from "./findings/words";
import { PART_CONTROLS } from "./maskParts/controls";
import { PART_OPERATIONS } from "./maskParts/operations";
import { PART_RECORDS, type PartShape } from "./maskParts/records";
import { PART_WORDS, partName } from "./maskParts/words";
import { controlsOf as mergeControls, MERGE_CONTROLS } from "./merges/controls";
import { MERGE_OPERATIONS } from "./merges/operations";
import { MERGE_RECORDS, methodsFor, type MergeMethod, type MergeRecord } from "./merges/records";
import { MERGE_WORDS } from "./merges/words";
import { SET_RECORDS, type SetKind } from "./sets/records";
import { SET_WORDS } from "./sets/words";
import { share } from "./values";

/** Enters a module into the lists of its sort, as its lines there would. */
function enter(name: string, ...entries: [list: object, module: unknown][]): void {
  for (const [list, module] of entries) (list as Record<string, unknown>)[name] = module;
}

const RECT = { x: 40, y: 60, width: 64, height: 48 };
let node: NodeEngine;
let plain: Records;

beforeAll(async () => {
  enter(
    "dim",
    [ADJUSTMENT_RECORDS, { values: { by: share(0) } }],
    [ADJUSTMENT_OPERATIONS, (on: Site, { by }: { by: number }) => lightOf(on).forEach((plane) => plane.forEach((v, i) => (plane[i] = v * (1 - by))))],
    [ADJUSTMENT_WORDS, { name: "Dimming", does: "Takes light away.", values: { by: "Taken away" } }],
    [ADJUSTMENT_CONTROLS, standard("dim" as Adjustment)],
  );
  enter(
    "stripes",
    [PART_RECORDS, { fields: { widthPx: numberField() }, values: { widthPx: { unit: "px", neutral: 8, min: 1, max: 64, step: 1, digits: 0 } } }],
    [
      PART_OPERATIONS,
      {
        shape: ({ level }: { level: number }, { widthPx }: { widthPx: number }, rect: typeof RECT) =>
          Float32Array.from({ length: rect.width * rect.height }, (_, i) => (Math.floor(((rect.x + (i % rect.width)) * 2 ** level) / widthPx) % 2 ? 0 : 1)),
      },
    ],
    [PART_WORDS, { name: "Stripes", does: "Upright stripes.", values: { widthPx: "Width" } }],
    [PART_CONTROLS, { begin: () => ({ kind: "stripes", widthPx: 8 }) }],
  );
  enter(
    "shade",
    [CONTENT_RECORDS, { fields: { by: numberField() } }],
    [
      CONTENT_OPERATIONS,
      (
        on: Parameters<typeof CONTENT_OPERATIONS.merge>[0],
        { by }: { by: number },
        _l: unknown,
        _g: unknown,
        scope: Parameters<typeof CONTENT_OPERATIONS.merge>[4],
      ) => {
        const planes = readMerge(scope, on.job.merge, on.where.level, on.where.rect);
        for (const at of each(planes)) on.ctx.kernels.f32(at, on.n).forEach((v, i, plane) => (plane[i] = v * by));
        return { planes, alpha: on.everywhere(scope), changes: false };
      },
    ],
    [CONTENT_WORDS, { word: ({ by }: { by: number }) => `the merge at ${100 * by} %`, values: ({ by }: { by: number }) => ({ light: `${100 * by} %` }) }],
    [CONTENT_CONTROLS, { Controls: ({ content }: { content: { by: number } }) => <Soft>Shaded to {content.by}.</Soft>, offers: [] }],
  );
  enter(
    "second",
    [MERGE_RECORDS, { fields: { heard: numberField() }, fresh: () => ({ heard: 0 }), suits: { bracket: 9 }, looksElsewhere: true }],
    [
      MERGE_OPERATIONS,
      {
        open: (ctx: Parameters<typeof mergeBase>[0], inputs: Parameters<typeof mergeBase>[1], _r: Records, task: Parameters<typeof mergeBase>[3]) =>
          mergeBase(ctx, inputs, 1, task),
        measures: () => Promise.resolve({ heard: 7 }),
      },
    ],
    [MERGE_WORDS, { name: "The second frame", word: "Second", gives: "what it gives", call: "Take the second" }],
    [MERGE_CONTROLS, { Controls: ({ record }: { record: { heard: number } }) => <Soft>Heard {record.heard}.</Soft> }],
  );
  enter(
    "tooQuiet",
    [FINDING_RECORDS, { values: { frames: "number" } }],
    [FINDING_WORDS, { name: "Quiet frames", title: "{frames, plural, one {A quiet frame} other {# quiet frames}}", sentence: "Nothing is heard in {frames}." }],
  );
  enter("duet", [SET_RECORDS, { checks: ["shallow"], isComparable: true }], [SET_WORDS, { name: "Duet", purpose: "Two that go together." }]);
  node = await createNodeEngine(process.cwd(), new MemoryRasterStore());
  plain = await prepareSmallJob(node);
});

const composed = async (records: Records, upTo: "merge" | "layers"): Promise<Float32Array> => {
  const job = await prepareJob(node.ctx, records, SILENT);
  return node.ctx.kernels.withScope((scope) => node.ctx.kernels.f32(composeRect(node.ctx, job, 0, RECT, upTo, scope).r, RECT.width * RECT.height).slice());
};
const near = (a: Float32Array, b: (i: number) => number) => a.forEach((v, i) => expect(Math.abs(v - b(i))).toBeLessThan(1e-5));
const isSound = (record: object) => VALIDATORS[(record as { kind: "layer" }).kind].isValidSync(record, { strict: true });
const noop = () => undefined;

it("an adjustment", async () => {
  const content = { type: "adjustment", adjustment: "dim", values: { by: 0.25 } } as unknown as LayerContent;
  const records = addLayer({ id: "a", name: "A", content })(plain);
  expect(isSound(layerOf(records, "a")!)).toBe(true);
  expect(isSound({ ...layerOf(records, "a")!, content: { ...content, values: { by: 2 } } })).toBe(false);
  const merge = await composed(plain, "merge");
  near(await composed(records, "layers"), (i) => 0.75 * merge[i]);
  const { Controls } = ADJUSTMENT_CONTROLS["dim" as Adjustment];
  const screen = renderToStaticMarkup(<Controls values={valuesOf("dim" as Adjustment, { by: 0.25 })} isDisabled={false} set={noop} preview={noop} />);
  expect(screen).toContain("Taken away");
  expect(wordsOf(content).values?.(content)).toEqual({ "taken away": "25 %" });
});

it("a part of a mask", async () => {
  const dimmed = addLayer({ id: "a", name: "A", mask: freshMask(1), content: { type: "adjustment", adjustment: "exposure", values: { ev: -1 } } })(plain);
  const shape = { kind: "stripes", widthPx: 8 } as unknown as PartShape;
  const records = addPart("a", shape).edit(dimmed);
  expect(isSound(layerOf(records, "a")!)).toBe(true);
  const [merge, made] = [await composed(plain, "merge"), await composed(records, "layers")];
  near(made, (i) => merge[i] * (Math.floor((RECT.x + (i % RECT.width)) / 8) % 2 ? 1 : 0.5));
  expect(partName(shape)).toBe("Stripes");
});

it("what a layer shows", async () => {
  const content = { type: "shade", by: 0.5 } as unknown as LayerContent;
  const records = addLayer({ id: "a", name: "A", content })(plain);
  expect(isSound(layerOf(records, "a")!)).toBe(true);
  expect(isSound({ ...layerOf(records, "a")!, content: { type: "shade" } })).toBe(false);
  const merge = await composed(plain, "merge");
  near(await composed(records, "layers"), (i) => 0.5 * merge[i]);
  const { Controls } = contentControls(content);
  expect(renderToStaticMarkup(<Controls layer={layerOf(records, "a")!} content={content} isDisabled={false} />)).toContain("Shaded to 0.5.");
  expect(wordsOf(content).word(content, layersOf(records)[0], records)).toBe("the merge at 50 %");
});

it("a way of merging", async () => {
  const method = "second" as MergeMethod;
  const draft = freshMerge(method) as MergeDraft;
  const facts = await node.ask("merge", { records: setMerge(draft)(plain), method });
  const records = takeMerge(draft, facts)(plain);
  const merge = mergeOf(records) as MergeRecord & { heard: number };
  expect([merge.method, merge.heard]).toEqual([method, 7]);
  expect(isSound(merge)).toBe(true);
  expect(isSound({ ...merge, heard: "much" })).toBe(false);
  expect(methodsFor("bracket")[0]).toBe(method);
  const base = takeMerge(freshMerge("base", { baseId: Object.keys(merge.shares)[1] }), facts)(plain);
  const [made, second] = [await composed(records, "merge"), await composed(base, "merge")];
  near(made, (i) => second[i]);
  const { Controls } = mergeControls(merge);
  expect(renderToStaticMarkup(<Controls record={merge as never} />)).toContain("Heard 7.");
});

it("a kind of set", () => {
  const id = workingSetIdOf(plain);
  const named = setKindOf(id, "duet" as SetKind)(plain);
  expect(VALIDATORS.set.isValidSync(named[id], { strict: true })).toBe(true);
  expect(VALIDATORS.set.isValidSync({ ...named[id], setKind: "trio" }, { strict: true })).toBe(false);
  expect(setSentence(summarizeSet(named))).toBe(`Duet, ${framesOf(named).length} frames`);
  expect(methodsFor("duet" as SetKind)).toEqual(methodsFor("single"));
});

it("a finding", () => {
  const found = finding("tooQuiet" as FindingKind, { frames: 2 } as never, { id: "q", place: null, share: 0, weight: 1, cause: "gather", remedy: null });
  expect(isFinding(JSON.parse(JSON.stringify(found)))).toBe(true);
  expect(isFinding({ ...found, values: {} })).toBe(false);
  expect([findingTitle(found), findingSentence(found)]).toEqual(["2 quiet frames", "Nothing is heard in 2."]);
});

it("a format of pictures", async () => {
  const bytes = Uint8Array.of(0x6d, 0x75, 2, 1, 10, 200);
  const read = (file: Uint8Array) => readPicture(file, {} as Codecs);
  await expect(read(bytes)).rejects.toThrow();
  PICTURE_READERS.push({
    name: "grey bytes",
    is: (file) => headOf(file) === 0x6d75,
    decode: ([, , width, height, ...greys]) => ({ raster: { width, height, bits: 8, data: Uint8Array.from(greys.flatMap((v) => [v, v, v])) } }),
    color: () => colorOfProfile(null),
  });
  expect(await read(bytes)).toMatchObject({ format: "grey bytes", raster: { width: 2, height: 1, data: Uint8Array.of(10, 10, 10, 200, 200, 200) }, notes: [] });
  expect((await readColor(bytes)).toWorking).toEqual(colorOfProfile(null).color.toWorking);
});
