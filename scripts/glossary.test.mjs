// Names and labels that the glossary has replaced do not come back.
import { execFileSync } from "node:child_process";
import { readFileSync } from "node:fs";
import { describe, expect, it } from "vitest";

const FORMER = `
  ARRANGE_COMMANDS AnalogueSection BandAtWork BassGain BinauralFold BrokenPlace CompanyRows DemandVerdict Demands
  FOLD_TARGETS FOREIGN_REACH FoldCoefficients FoldMatrix FoldTarget FoldingTable FollowSettings FollowState
  FoundPlaces GrowingSeries GrowingTable HOPS_PER_FRAME HOPS_PER_TICK Handover HeadAndTailFigures HeardOptions
  Interpolation JOINT_SHAPES Joint JointShape KeptPreset KeptProfile LearnedRoom LearnedTail LimitGains
  LimitSettings LinkedBands LookAheadGain LookAheadSettings MovingLines MovingMeans OverviewBuilder
  OverviewHeader OverviewLevel PARTS_PER_TICK PICTURE_FLOOR_DB PICTURE_KINDS PLAIN_FADE PLAIN_JOINT PairCascade
  PairFrames PairSpectrum PictureKind PictureMaker PictureSettings PilotRows PlacedPiece PointsParameter
  ProjectStanding Proposal RaisedLine RateLine RatePlan RepairPlace SCOUT_GAIN SCOUT_GROUP SCOUT_PAIRS SCOUT_TAPS
  SPECTRUM_TICKS STANDARD_FOLD Scout ScoutPlan Section SectionCascade SectionFilter SegmentBins Settled ShareRows
  SimilarOptions SimilarPlace SpectralFrames Standing StretchJudgement TICKS_PER_SECOND TickMeasurer TickRecord
  TickRecorder ToldTags Unwanted UnwantedRows WORK_SEGMENT WantedRows WayContext arrangedSource bentSample
  brokenPlaces canMove companyRows confine constantRate createAround demandsSchema depthDb duckerLine edgeMoved
  fillForeign findPlaces foldDown foldMatrix foreignStretches frameNear framesOfPiece gainLine gainLineParameter
  gainOf headAndTail heardSource inForce inPairs isAtWork isUntouched jointSchema jointSet judgeFile judgeStretch
  keptPresetSchema keptProfileSchema learnNoise learnRoom leastKbps levellerLine lineDb lineDbfs linePointsSchema
  linkedBands listenFromHz listenToHz madeSource measuredTrip mendGap movableOf movedProcessor movedTo
  overviewTail pairCascade pairFrames parameterOfLine parametersAround partSource pieceSchema piecesSchema
  plainAnalysis plainBandSum plainCascade plainChannelQuantiser plainClean plainCompanyRows plainDecimator
  plainDot plainFollow plainInterpolator plainLevels plainLimitGains plainMovingMeans plainPairFrames
  plainPowerSpectrum plainRaisedLine plainRateLine plainScoutOf plainTransform plainWantedRows plainWeigh
  plainlyEncoded powerOfSection predictAround predictRide proposalsFor quickDbToGain quickPowerToDb raisedLine
  rateLine readOverviewHeader reconstructed rileySections scoutedSamples sectionsOfBand sectionsOfFilter
  shareRows shownName similarPlaces splattedSections steadyTones steadyTrack stretchPiece tickStart tidied
  toldTags turnDown upToHz wantedRows wantedShare wasmCompanyRows wasmFollow wasmLimitGains wasmMovingMeans
  wasmPairFrames wasmRaisedLine wasmRateLine wasmWantedRows waysToPass whereOf width3 withSetAside workSegments
  workedSource
`;

const LABELS = [
  ...["Keeps above", "Keeps below", "Deaf below", "Deaf above", "Release adapts", "Gain line", "Replace from around"],
  ...[
    "Blows of air",
    "Hear what is cut",
    "Turn the right side over",
    "Works on",
    "Set aside",
    "Cuts and joints",
    "its work",
  ],
];

/** What reads former names has to know them; so does what tests that. */
const READERS =
  /former|stored-master|core\/(repair|processors)\/index\.ts|project\/document\.ts|delivery\/(spec|recipe)\.ts/;

const files = execFileSync("git", ["ls-files", "*.ts", "*.tsx"], { encoding: "utf8" })
  .split("\n")
  .filter((file) => file !== "" && !READERS.test(file) && !/generated|assembly/.test(file));

describe("the trade's words", () => {
  it("are the only ones in names", () => {
    const former = new Set(FORMER.split(/\s+/).filter(Boolean));
    const found = files.flatMap((file) =>
      [...new Set(readFileSync(file, "utf8").match(/\b\w+\b/g) ?? [])]
        .filter((word) => former.has(word))
        .map((word) => `${file}: ${word}`),
    );
    expect(found).toEqual([]);
  });
  it("are the only ones in labels", () => {
    const found = files.flatMap((file) => {
      const text = readFileSync(file, "utf8");
      return LABELS.filter((label) => text.includes(`"${label}"`)).map((label) => `${file}: ${label}`);
    });
    expect(found).toEqual([]);
  });
});
