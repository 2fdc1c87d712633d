import { toast } from "sonner";

/** Tells a person that something did not work, and why. */
export const told = (work: Promise<unknown>, title: string) =>
  void work.catch((error: unknown) =>
    toast.error(title, { description: error instanceof Error ? error.message : String(error) }),
  );
