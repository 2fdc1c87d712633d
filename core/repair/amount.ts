/** How much of what a repair does takes effect: the setting that several of them share. */
export const amountOf = (help: string) =>
  ({
    kind: "number",
    label: "Amount",
    help,
    unit: "%",
    min: 0,
    max: 100,
    step: 1,
    scale: "linear",
    default: 100,
  }) as const;
