import type { GroupId } from "@core/processors/groups";

/** Colour of a group of processors; its word always stands with it. */
export const groupColour = (group: GroupId): string => `var(--group-${group})`;
