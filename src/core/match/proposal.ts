import type { StepProposal } from "./steps";
import type { Transfer } from "./transfer";

/** An ordinary adjustment with its values, as a match proposes it. */
export interface ProposedAdjustment {
  adjustment: StepProposal["adjustment"] | "mixture" | "curve";
  values: Record<string, number>;
}

const OF = ["redOfRed", "redOfGreen", "redOfBlue", "greenOfRed", "greenOfGreen", "greenOfBlue", "blueOfRed", "blueOfGreen", "blueOfBlue"];
const mixtureOf = (matrix: readonly number[]): ProposedAdjustment => ({
  adjustment: "mixture",
  values: Object.fromEntries(OF.map((name, k) => [name, matrix[k]])),
});

/** A transfer as the adjustments that make it, in their order: channels mixed, a curve on each, mixed back. */
export function adjustmentsOf({ mix, curves, back }: Transfer): ProposedAdjustment[] {
  return [
    mixtureOf(mix),
    ...curves.map(({ x, y }, c): ProposedAdjustment => ({
      adjustment: "curve",
      values: {
        channel: c + 1,
        log: 0,
        nodes: x.length,
        ...Object.fromEntries(
          x.flatMap((at, k) => [
            [`x${k}`, at],
            [`y${k}`, y[k]],
          ]),
        ),
      },
    })),
    mixtureOf(back),
  ];
}
