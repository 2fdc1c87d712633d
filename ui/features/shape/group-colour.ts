import type { GroupId } from "@core/processors/groups";

/** Colour of a group of processors; its word always stands with it. */
export const groupInk = (group: GroupId): string => `var(--group-${group})`;
