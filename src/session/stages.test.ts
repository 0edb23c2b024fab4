import { sentence, title } from "../messages/sentence";
import type { Records } from "../document/records/types";
import { describeStage as stageAsTold, STAGES, type Stage, type StageInputs } from "./stages";

const describeStage = (stage: Stage, inputs: StageInputs) => {
  const { state, figure } = stageAsTold(stage, inputs);
  return { state, figure: sentence(figure) };
};

const empty = { records: {} as Records, oddities: 0, findings: null, openFindings: 0, working: null, lastExportAt: null };
const frames = (n: number) =>
  ({
    job: { kind: "job", id: "job", workingSetId: "s" },
    ...Object.fromEntries(Array.from({ length: n }, (_, i) => [`f${i}`, { kind: "frame", id: `f${i}`, index: i, setId: "s", excluded: i === 9 }])),
  }) as unknown as Records;

it("every stage has a name, and a state with a word and a figure, from the first moment", () => {
  for (const stage of STAGES) {
    const { state, figure } = describeStage(stage, empty);
    expect(title(`stage.${stage}`).length).toBeGreaterThan(3);
    expect(sentence(`state.${state}`)).toMatch(/^[a-z]/i);
    expect(figure).toMatch(/^[a-z]/);
  }
  expect(describeStage("plan", empty).state).toBe("notUsed");
  expect(describeStage("gather", empty)).toEqual({ state: "notBegun", figure: "no frames" });
});

it("Gather counts the frames that take part and says how much is to be checked", () => {
  expect(describeStage("gather", { ...empty, records: frames(1) }).figure).toBe("1 frame");
  expect(describeStage("gather", { ...empty, records: frames(10), oddities: 2 })).toEqual({ state: "finding", figure: "9 frames, 2 to check" });
});

it("Register shows the worst residual, or who was left out or may lie elsewhere", () => {
  const placed = (registered: boolean, otherPx: number[] = []) => ({ frameId: "f0", registered, residualPx: 0.137, otherPx });
  const records = (registered: boolean, otherPx: number[] = []) =>
    ({ ...frames(2), "registration-s": { kind: "registration", placements: [placed(true), placed(registered, otherPx)] } }) as unknown as Records;
  expect(describeStage("register", { ...empty, records: records(true) })).toEqual({ state: "clear", figure: "within 0.14 px" });
  expect(describeStage("register", { ...empty, records: records(false) })).toEqual({ state: "finding", figure: "1 left out" });
  expect(describeStage("register", { ...empty, records: records(true, [80]) })).toEqual({ state: "finding", figure: "1 unsure" });
});

it("a stage at work says so, and Proof is clear only when it was run and nothing is open", () => {
  expect(describeStage("merge", { ...empty, working: "merge" }).state).toBe("working");
  expect(describeStage("proof", { ...empty, findings: [] })).toEqual({ state: "clear", figure: "clear" });
  expect(describeStage("proof", { ...empty, findings: [], openFindings: 2 })).toEqual({ state: "finding", figure: "2 findings" });
  expect(describeStage("handover", { ...empty, lastExportAt: "2026" }).figure).toBe("delivered");
});

it("Merge has a finding only where what moved would be smeared and nobody has decided", () => {
  const merged = (method: string, donorId: string | null) =>
    describeStage("merge", {
      ...empty,
      records: {
        ...frames(2),
        "merge-s": { kind: "merge", id: "merge-s", setId: "s", method },
        g: { kind: "ghost", id: "g", index: 0, setId: "s", donorId, strength: 9 },
      } as unknown as Records,
    });
  expect(merged("fusion", null)).toEqual({ state: "finding", figure: "exposure fusion" });
  expect(merged("fusion", "f1").state).toBe("clear");
  expect(merged("median", null)).toEqual({ state: "clear", figure: "median" });
});
