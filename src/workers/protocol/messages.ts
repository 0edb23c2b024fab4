import type { Attitude } from "../../core/panorama/camera";
import type { ProjectionFigures } from "../../core/panorama/judgeProjections";
import type { PanoramaCrop, PanoramaRequest, PreparedPanorama, SnappedPoint } from "../../engine/operations/panorama/preparePanorama";
import type { MergeMethod } from "../../core/merge/mergeMethods";
import type { Rectangle } from "../../core/geometry/rectangle";
import type { Effect } from "../../document/history";
import type { StoredJob } from "../../document/parseDocument";
import type { FrameRecord, Records, RegistrationRecord } from "../../document/records/types";
import type { FrameParity } from "../../core/measure/sets/parity";
import type { CardReading, FrameReadouts } from "../../engine/operations/gather/frameReadouts";
import type { GatheredSets } from "../../engine/operations/gather/gatherSets";
import type { Lens } from "../../core/geometry/lens";
import type { CommonArea, PlacementFigures, Placing } from "../../engine/operations/register/placements";
import type { FoundGhosts } from "../../engine/operations/merge/findGhosts";
import type { MergeFacts, PlacementWithCrop } from "../../engine/Engine";
import type { ImportedFrame } from "../../engine/operations/gather/importFrame";
import type { CellMeasures } from "../../core/weave/judgeRegions";
import type { WeaveRecord, WeaveRegion } from "../../document/records/weaveTypes";
import type { FoundPart } from "../../engine/operations/masks/foundMask";
import type { DustSpot } from "../../engine/operations/retouch/cleaning";
import type { RemnantAudit } from "../../engine/operations/retouch/remnants";
import type { Twin } from "../../core/retouch/findTwins";
import type { Tones } from "../../engine/operations/finish/measureTones";
import type { FinishProposals, FrameProposal } from "../../engine/operations/finish/proposals";
import type { Finding } from "../../engine/operations/proof/finding";
import type { RegisterRequest } from "../../engine/operations/register/registerFrames";
import type { Readout } from "../../engine/operations/view/readout";
import type { RadianceRange } from "../../engine/operations/merge/confidence";
import type { RenderedView, ScreenSpace } from "../../engine/operations/view/renderView";
import type { ViewSpec } from "../../engine/operations/view/ViewSpec";
import type { LinkedFolder } from "../../storage/database";
import type { CheckedLink } from "../../storage/linkedFiles";
import type { ExportSettings } from "../../engine/operations/deliver/exportPicture";

/** Every message the engine's worker knows: what goes in, what comes out. */
export interface Messages {
  /** @param folderId where the file stays in its folder and no copy is kept */
  importFrame: [params: { fileName: string; file: Blob; folderId?: string }, result: ImportedFrame];
  /** How the sources stand that were left in their folders. */
  checkLinks: [params: { sourceIds: string[] }, result: CheckedLink[]];
  /** Links sources to where a folder holds them now; gives the ids found. */
  findSources: [params: { folder: LinkedFolder; sourceIds: string[] }, result: string[]];
  measureExposures: [params: { frames: FrameRecord[] }, result: Record<string, number>];
  readFrame: [params: { frame: FrameRecord }, result: FrameReadouts];
  readCard: [params: { frame: FrameRecord; x: number; y: number; radius: number }, result: CardReading];
  gatherSets: [params: { records: Records; frames: FrameRecord[] }, result: GatheredSets];
  compareFrames: [params: { records: Records; frames: FrameRecord[] }, result: FrameParity[]];
  register: [
    params: { records: Records; frames: FrameRecord[]; request: RegisterRequest },
    result: { registration: RegistrationRecord; measuredEv: Record<string, number> },
  ];
  preparePanorama: [params: { frames: FrameRecord[]; request: PanoramaRequest }, result: PreparedPanorama];
  /** @param attitude turned otherwise than it is */
  compareProjections: [params: { records: Records; attitude: Attitude | null }, result: ProjectionFigures[]];
  panoramaCrop: [params: { records: Records; ratio: number | null }, result: PanoramaCrop | null];
  snapPanoramaPoint: [
    params: { records: Records; aId: string; bId: string; x: number; y: number; guess: [number, number] | null },
    result: SnappedPoint | null,
  ];
  judgePlacement: [params: { records: Records; frameId: string; placing: Placing }, result: PlacementFigures];
  describePlacement: [params: { records: Records; frameId: string; placing: Placing }, result: PlacementWithCrop];
  placeByPoints: [params: { records: Records; frameId: string; points: number[][]; lens: Lens | null }, result: PlacementWithCrop | null];
  refinePlacement: [params: { records: Records; frameId: string; placing: Placing }, result: PlacementWithCrop | null];
  snapPoint: [
    params: { records: Records; frameId: string; placing: Placing; point: { x: number; y: number }; guess: { u: number; v: number } },
    result: { u: number; v: number; correlation: number } | null,
  ];
  commonArea: [params: { records: Records; ratio: number | null }, result: CommonArea];
  merge: [params: { records: Records; method: MergeMethod }, result: MergeFacts];
  shares: [params: { records: Records }, result: Record<string, number>];
  radianceRange: [params: { records: Records }, result: RadianceRange];
  findGhosts: [params: { records: Records; threshold: number }, result: FoundGhosts];
  renderView: [params: { records: Records; view: ViewSpec; level: number; rect: Rectangle; space: ScreenSpace }, result: RenderedView];
  readOut: [params: { records: Records; x: number; y: number; radius: number }, result: Readout];
  proposeFrame: [params: { records: Records; region: Rectangle }, result: FrameProposal | null];
  proposeFinish: [params: { records: Records }, result: FinishProposals];
  proof: [params: { records: Records }, result: Finding[]];
  /** Regions of the scene with what every frame is worth there. @param regions how many */
  proposeWeave: [params: { records: Records; regions: number }, result: WeaveRecord];
  /** One region parted in two; null where it cannot be. */
  splitWeaveRegion: [params: { records: Records; weave: WeaveRecord; regionId: string }, result: WeaveRegion[] | null];
  /** What every frame of the set is worth in an area of the weave's cells. */
  measureArea: [params: { records: Records; runs: number[] }, result: CellMeasures[]];
  /** Cells that each chosen frame gives, borders where they show least. */
  weaveBorders: [params: { records: Records; weave: WeaveRecord }, result: { frameId: string; runs: number[] }[]];
  /** The area of a retouch at full size and the source proposed for it; null where its mask reveals nothing. */
  retouchPlace: [params: { records: Records; layerId: string }, result: { area: Rectangle; proposal: { dx: number; dy: number } | null } | null];
  /** Specks that are likely dust, the surest first. */
  findDust: [params: { records: Records }, result: DustSpot[]];
  /** What a layer has left of what it takes away; null where it takes nothing away. */
  auditRemnants: [params: { records: Records; layerId: string }, result: RemnantAudit | null];
  /** Patches that one retouch makes stand twice. */
  findTwinsOf: [params: { records: Records; layerId: string }, result: Twin[]];
  /** Patches that stand in the picture twice. */
  findTwins: [params: { records: Records }, result: Twin[]];
  /** How much of the picture something is that is looked for, and how sure that is. */
  judgeFound: [params: { records: Records; part: FoundPart }, result: { share: number; confidence: number }];
  /** Range of light and hues of the merge with its layers. */
  measureTones: [params: { records: Records }, result: Tones];
  measureEffect: [params: { before: Records; after: Records }, result: Effect | null];
  export: [
    params: { records: Records; settings: ExportSettings; method?: MergeMethod },
    result: { file: Blob; width: number; height: number; clippedShare: number; negatives: number },
  ];
  /** Lets every intermediate picture go; they are made again from the sources when they are needed. */
  clearRasters: [params: Record<string, never>, result: null];
  writeJob: [params: { job: StoredJob }, result: Blob];
  openJob: [params: { file: Blob }, result: { job: StoredJob; records: Records }];
}

export type MessageName = keyof Messages;
export type Params<K extends MessageName> = Messages[K][0];
export type Result<K extends MessageName> = Messages[K][1];

/** What the screen sends. */
export type Request = { [K in MessageName]: { id: number; name: K; params: Params<K> } }[MessageName] | { id: number; cancel: true };

/** An error as it crosses the border: its kind and its sentence. */
export interface WireError {
  name: string;
  message: string;
}

/** What the worker sends. */
export type Response = { id: number; progress: { share: number; what: string } } | { id: number; result: unknown } | { id: number; error: WireError };
