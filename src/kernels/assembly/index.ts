export { warpRows, warpGridRows, interleaveBytes, interleaveSamples, warpFloatGridRows, gainGridRows, warpFloatRows } from "./warp";
export { productRows } from "./features";
export { addRows, maskRows } from "./labels";
export { lookUpSamples, lookUpBytes, unitBytes, unitSamples, applyMatrix, halveRows, shareRows, luminanceSamples, edgeRows, supportedEdgeRows } from "./planes";
export { reduceRows, accumulateBand, collapseRows, accumulateProduct } from "./pyramid";
export { fusionWeightRows, shareWeights } from "./fusion";
export { judgeRows, mergeRadiance } from "./radiance";
export { gradeSamples, toneSamples, localToneRows, blendSamples, encodeRows8, encodeSamples, decodeSamples, rootSamples, squareSamples, stampDisc } from "./grade";
export { combineRepeats } from "./repeats";
