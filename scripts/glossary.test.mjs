// Names and labels that the glossary has replaced do not come back.
import { execFileSync } from "node:child_process";
import { readFileSync } from "node:fs";
import { describe, expect, it } from "vitest";

const FORMER = `
  ARRANGE_COMMANDS AnalogueSection BandAtWork BassGain BinauralFold BrokenPlace CompanyRows CostAnswer CostRequest
  DemandVerdict Demands DeskCommand EntryCost EntryInHand FOLD_TARGETS FOREIGN_REACH FindAnswer FindRequest
  FirstWaveform FoldCoefficients FoldMatrix FoldTarget FoldingTable FollowSettings FollowState FoundPlaces
  FreezeOrder GrowingSeries GrowingTable HOPS_PER_FRAME HOPS_PER_TICK HandedFile Handover HandoverView
  HarmonicsDrawing HeadAndTailFigures HearStep HeardOptions HearingModel InHandProvider Interpolation ItemOverview
  JOINT_SHAPES Joint JointShape KeptPreset KeptProfile KeptProfiles LANE_WORDS LONGEST_REPLACED LearnAnswer
  LearnRequest LearnedRoom LearnedTail LimitGains LimitSettings LineEditor LineEditors LinePlot LinkedBands
  ListsView LookAheadGain LookAheadSettings LookAnswer LookRequest LookSettings MARKER_LOOKS METER_WORDS
  MadeHarmonics ManyHead ManyView MasterAbout MeasuredStretch MediaAbout MovingLines MovingMeans MovingSettings
  NOTHING_MADE NamesView NoiseStretchQuality OWN_TAKE OpenedTake OverviewBuilder OverviewData OverviewHeader
  OverviewLevel PARTS_PER_TICK PICTURE_FLOOR_DB PICTURE_KINDS PICTURE_ROWS PLACE_KINDS PLAIN_FADE PLAIN_JOINT
  PLAIN_SETTINGS PairCascade PairFrames PairSpectrum PeaksDrawing PictureAnswer PictureBeside PictureKind
  PictureLane PictureLook PictureMaker PictureRequest PictureSettings PictureTiles PilotRows PlaceKind PlaceLink
  PlaceList PlaceState PlaceTable PlacedPiece PointAtPlayhead PointList PointsParameter ProgrammeOptions
  ProgrammeReader ProgrammeToolbar ProgrammeView ProgressTeller ProjectStanding ProofAnswer ProofRequest
  ProofState Proposal RaisedLine RateLine RatePlan RepairPlace RepairStore RoomDrawing SCOUT_GAIN SCOUT_GROUP
  SCOUT_PAIRS SCOUT_TAPS SEGMENT_TICKS SPECTRUM_TICKS STANDARD_FOLD SameSound Scout ScoutPlan Scrubbed Section
  SectionCascade SectionFilter SegmentBins Settled ShareRows SimilarAnswer SimilarOptions SimilarPlace
  SimilarRequest SpectralFrames SpectrumGround Standing StandingMark StandingStrip StretchJudgement
  TICKS_PER_SECOND TailLearning TickMeasurer TickRecord TickRecorder ToldTags ToneLane Unwanted UnwantedRows
  WORK_SEGMENT WantedRows WaveLane WaveModel WayContext WaysToPass WidthDrawing aimWords arrangedSource bandWords
  bentSample betterSide brokenPlaces canMove cancelPreparing cancelSending chainInHand companyRows confine
  constantRate correlationInk costWords createAround curvesNow cuttingOf demandsSchema depthDb dismissSending
  drawPictureRuler duckerLine edgeMoved encodedWithTags energyInk enqueueHandover enqueuePreparing fateOf
  fillForeign findPlaces foldDown foldMatrix foreignStretches frameNear framesOfPiece gainLine gainLineParameter
  gainOf giveKeys groupInk handOver handoverFailed handoversOf headAndTail hearAround hearEdit heardSource
  helpWithWork impulseStretches inForce inPairs inksOf isAtWork isPrepared isUntouched joinNothing jointSchema
  jointSet judgeFile judgeStretch keepArrangement keptPresetSchema keptProfileSchema learnInBrowser learnNoise
  learnRoom leastKbps leftBehind levellerLine lineDb lineDbfs linePointsSchema linkedBands listenFromHz listenToHz
  madeSource masterFirst measuredTrip mendGap movableOf movedProcessor movedTo noiseStretchQuality nowMeasured
  overviewTail ownMark ownPage pairCascade pairFrames paperNamed papersOf parameterOfLine parametersAround
  partSource pictureSettings pieceSchema piecesSchema plainAnalysis plainBandSum plainCascade
  plainChannelQuantiser plainClean plainCompanyRows plainDecimator plainDot plainFollow plainInterpolator
  plainLevels plainLimitGains plainMovingMeans plainPairFrames plainPowerSpectrum plainRaisedLine plainRateLine
  plainScoutOf plainTransform plainWantedRows plainWeigh plainlyEncoded powerOfSection predictAround predictRide
  preparingFailed programmeMemorySeconds programmeOf projectsWith proposalsFor quickDbToGain quickPowerToDb
  raisedLine rateLine readOverviewHeader reconstructed refuseWithoutRoom requestHandover rileySections
  roomResolutions roomTail scoutedSamples sectionsOfBand sectionsOfFilter sendFiles setPicture shareRows showPlace
  shownName similarPlaces simulatedVoice splattedSections spotCommands standingColour standingOf steadyTones
  steadyTrack stopUnwanted streamedZip stretchPiece stretchWaveform takeAway takeItem takeMost takeSmallest
  takingTones tellProgress tellWaiting tickStart ticksOf tidied toldTags toneInk toneShare toneWords treatingStep
  turnDown upToHz useBetterSide useCopied useDesk useDeskCommands useDoorStandings useFrozenMade useInHand
  useKnown useListening useLook useMade usePictureTiles usePlaces useProgramme useProgrammeShare useProgress
  useProof useRepairing useRepairsHeard useRepairsMade useRepairsShown useSaving useSendings useStretchFigures
  useTimeWords waitingWords wantedRows wantedShare wasmCompanyRows wasmFollow wasmLimitGains wasmMovingMeans
  wasmPairFrames wasmRaisedLine wasmRateLine wasmWantedRows waysOf waysToPass whereOf whereWords width3
  withSetAside withSpaceExplained workSegments workedSound workedSource zipOf zipOfChannels
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
    "Outside loop",
    "Keep only this",
    "Prove the bytes",
    "Level of a spot",
    "Lost in mono",
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
