import * as z from "zod";

/** One repair step as a document holds it: flat, like an entry of a chain. */
export interface RepairStep extends Record<string, unknown> {
  type: string;
}

/** Every repair that there is; none yet. A new one: its file, and a line here. */
export const REPAIRS: readonly { id: string }[] = [];

/** Steps that name a repair there is not are refused by name, so that nothing is silently left undone. */
export const repairsSchema: z.ZodType<RepairStep[]> = z
  .array(z.looseObject({ type: z.string() }))
  .superRefine((steps, context) => {
    steps.forEach((step, index) => {
      if (REPAIRS.some((repair) => repair.id === step.type)) return;
      const known = REPAIRS.map((repair) => repair.id).join(", ") || "none in this version";
      context.addIssue({
        code: "custom",
        path: [index, "type"],
        message: `There is no repair "${step.type}"; there are: ${known}.`,
      });
    });
  });
