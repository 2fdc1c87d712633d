/** An error of a full disk in words for a person; others as they are. */
export function withSpaceExplained(error: Error): Error {
  return (error as NodeJS.ErrnoException).code === "ENOSPC"
    ? new Error("The disk is full. Nothing that was finished is lost; make room, then try again.")
    : error;
}
