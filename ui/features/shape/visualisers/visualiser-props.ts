import type { Parameters, SettingsOf } from "@core/parameters/parameter";
import type { Visualiser } from "@core/processors/processor";
import type { EntryEditing } from "./use-entry";

type AnyVisualiser = Visualiser<SettingsOf<Parameters>>;
export type VisualiserKind = AnyVisualiser["kind"];

/** What a drawing of a kind is given: the processor in hand, and what its definition says of the drawing. */
export interface VisualiserProps<Kind extends VisualiserKind = VisualiserKind> {
  inHand: EntryEditing;
  visualiser: Extract<AnyVisualiser, { kind: Kind }>;
}
