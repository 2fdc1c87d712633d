"use client";

import type { ComponentType } from "react";
import { EnhancerHarmonics } from "./enhancer-harmonics";
import { EqualiserEditor } from "./equaliser-editor";
import { GainEnvelopeEditor } from "./gain-envelope-editor";
import { Harmonics } from "./harmonics";
import { MultibandEditor } from "./multiband-editor";
import { Peaks } from "./peaks";
import { Response } from "./response";
import { ReverbDrawing } from "./reverb";
import { ToneMatchEditor } from "./tone-match-editor";
import { ProcessorCurve } from "./transfer-curve";
import type { VisualiserKind, VisualiserProps } from "./visualiser-props";
import { Width } from "./width";

interface Drawing<Kind extends VisualiserKind> {
  /** Over the whole width above the settings, or beside them. */
  place: "wide" | "beside";
  View: ComponentType<VisualiserProps<Kind>>;
}

/** The drawings that definitions of processors ask for, by kind. */
const DRAWINGS: { [Kind in VisualiserKind]: Drawing<Kind> } = {
  "equaliser bands": { place: "wide", View: EqualiserEditor },
  multiband: { place: "wide", View: MultibandEditor },
  "tone match": { place: "wide", View: ToneMatchEditor },
  "gain envelope": { place: "wide", View: GainEnvelopeEditor },
  "transfer curve": { place: "beside", View: ProcessorCurve },
  response: { place: "beside", View: Response },
  harmonics: { place: "beside", View: Harmonics },
  "enhancer harmonics": { place: "beside", View: EnhancerHarmonics },
  peaks: { place: "beside", View: Peaks },
  width: { place: "beside", View: Width },
  reverb: { place: "beside", View: ReverbDrawing },
};

/** The drawing of a kind. What a visualiser's kind is decides which of its views it is given to. */
export const drawingOf = (visualiser: VisualiserProps["visualiser"]): Drawing<VisualiserKind> =>
  DRAWINGS[visualiser.kind] as Drawing<VisualiserKind>;
